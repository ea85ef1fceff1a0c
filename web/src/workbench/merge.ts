/** Plain JSON. */
export type Json = null | boolean | number | string | Json[] | { [key: string]: Json };

/** One place that both sides changed differently. */
export interface Clash {
  path: string;
  mine: Json | undefined;
  theirs: Json | undefined;
}

const isRecord = (x: Json | undefined): x is Record<string, Json> =>
  typeof x === 'object' && x !== null && !Array.isArray(x);

export const same = (a: unknown, b: unknown) => a === b || JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

/** Key order means nothing in JSON. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, v]) => v !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([k, v]) => [k, sorted(v)]),
  );
}

/**
 * Three-way merge of JSON records: what only one side changed is taken from it, key by key; lists are whole values, since
 * their places have no names. Where both changed the same place differently, `mine` stands and the clash is listed.
 */
export function merge(base: Json, mine: Json, theirs: Json): { merged: Json; clashes: Clash[] } {
  const clashes: Clash[] = [];
  const walk = (b: Json | undefined, m: Json | undefined, t: Json | undefined, path: string): Json | undefined => {
    if (same(m, t)) return m;
    if (same(b, m)) return t;
    if (same(b, t)) return m;
    if (isRecord(m) && isRecord(t)) {
      const from = isRecord(b) ? b : {};
      const keys = [...new Set([...Object.keys(m), ...Object.keys(t)])];
      const entries = keys.map((k) => [k, walk(from[k], m[k], t[k], path === '' ? k : `${path}.${k}`)] as const);
      return Object.fromEntries(entries.filter((e): e is [string, Json] => e[1] !== undefined));
    }
    clashes.push({ path, mine: m, theirs: t });
    return m;
  };
  return { merged: walk(base, mine, theirs, '') ?? null, clashes };
}

/** `base` with every place taken from `theirs` that is stored as it was `sent`: what one knows of the other side once an answer was lost. */
export function confirmed(base: Json, sent: Json, theirs: Json): Json {
  const walk = (b: Json | undefined, s: Json | undefined, t: Json | undefined): Json | undefined => {
    if (same(s, t)) return t;
    if (!isRecord(b) || !isRecord(s) || !isRecord(t)) return b;
    const keys = [...new Set([...Object.keys(b), ...Object.keys(t)])];
    const entries = keys.map((k) => [k, walk(b[k], s[k], t[k])] as const);
    return Object.fromEntries(entries.filter((e): e is [string, Json] => e[1] !== undefined));
  };
  return walk(base, sent, theirs) ?? null;
}

/** The same value with one dotted place set; `undefined` removes it. Indexes are numbers between dots. */
export function put<T>(value: T, path: string, next: unknown): T {
  const [head = '', ...rest] = path.split('.');
  if (Array.isArray(value)) {
    const index = Number(head);
    const copy: unknown[] = [...(value as unknown[])];
    if (rest.length === 0 && next === undefined) copy.splice(index, 1);
    else copy[index] = rest.length === 0 ? next : put(copy[index], rest.join('.'), next);
    return copy as T;
  }
  const record = (value ?? {}) as Record<string, unknown>;
  const inner = rest.length === 0 ? next : put(record[head], rest.join('.'), next);
  if (inner === undefined) {
    return Object.fromEntries(Object.entries(record).filter(([k]) => k !== head)) as T;
  }
  return { ...record, [head]: inner } as T;
}

/** What stands at a dotted place. */
export function get(value: unknown, path: string): unknown {
  return path.split('.').reduce<unknown>((at, key) => {
    if (typeof at !== 'object' || at === null) return undefined;
    return (at as Record<string, unknown>)[key];
  }, value);
}
