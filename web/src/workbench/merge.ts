/** Plain JSON. */
export type Json = null | boolean | number | string | Json[] | { [key: string]: Json };

/** One place that both sides changed differently. */
export interface Clash {
  /** For people and keys of lists. */
  path: string;
  /** Key by key, for [`put`]; a key may hold dots, and `#id` stands for the item of a list that has the id. */
  place: string[];
  mine: Json | undefined;
  theirs: Json | undefined;
}

const isRecord = (x: Json | undefined): x is Record<string, Json> =>
  typeof x === 'object' && x !== null && !Array.isArray(x);

/**
 * Whether two values are the same JSON: key order means nothing, a key without a value is none. What is the very same object is not
 * looked into, so that an edit does not walk an hour of readings it never touched.
 */
export function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  if (Array.isArray(a) || Array.isArray(b)) {
    return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((v, i) => same(v, b[i]));
  }
  const [one, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const held = (of: Record<string, unknown>) => Object.keys(of).filter((k) => of[k] !== undefined);
  const keys = held(one);
  return keys.length === held(other).length && keys.every((k) => other[k] !== undefined && same(one[k], other[k]));
}

/** Items of a list by their ids, when every one has its own; lists without are whole values, since their places have no names. */
function byId(list: Json | undefined): Map<string, Json> | null {
  if (!Array.isArray(list)) return null;
  const items = new Map<string, Json>();
  for (const item of list) {
    const id = isRecord(item) ? item['id'] : undefined;
    if (typeof id !== 'string' || items.has(id)) return null;
    items.set(id, item);
  }
  return items;
}

/**
 * Three-way merge of JSON records: what only one side changed is taken from it, key by key, and in lists item by item where items have
 * ids. Where both changed the same place differently, `mine` stands and the clash is listed. What one side removed and the other changed
 * stays as changed.
 */
export function merge(base: Json, mine: Json, theirs: Json): { merged: Json; clashes: Clash[] } {
  const clashes: Clash[] = [];
  const walk = (b: Json | undefined, m: Json | undefined, t: Json | undefined, place: string[]): Json | undefined => {
    if (same(m, t)) return m;
    if (same(b, m)) return t;
    if (same(b, t)) return m;
    if (isRecord(m) && isRecord(t)) {
      const from = isRecord(b) ? b : {};
      const keys = [...new Set([...Object.keys(m), ...Object.keys(t)])];
      const entries = keys.map((k) => [k, walk(from[k], m[k], t[k], [...place, k])] as const);
      return Object.fromEntries(entries.filter((e): e is [string, Json] => e[1] !== undefined));
    }
    const [own, others, before] = [byId(m), byId(t), byId(b ?? [])];
    if (own && others && before) {
      // In the order of this side; what the other side added comes behind.
      const ids = [...new Set([...own.keys(), ...others.keys()])];
      return ids
        .map((id) => {
          const [was, mineNow, theirsNow] = [before.get(id), own.get(id), others.get(id)];
          // Removed here or there, and changed by nobody since: gone. Changed since: kept.
          if (mineNow === undefined) return same(was, theirsNow) ? undefined : theirsNow;
          if (theirsNow === undefined) return same(was, mineNow) ? undefined : mineNow;
          return walk(was, mineNow, theirsNow, [...place, `#${id}`]);
        })
        .filter((item) => item !== undefined);
    }
    clashes.push({ path: place.join('.'), place, mine: m, theirs: t });
    return m;
  };
  return { merged: walk(base, mine, theirs, []) ?? null, clashes };
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

const keysOfPlace = (place: string | readonly string[]): readonly string[] =>
  typeof place === 'string' ? place.split('.') : place;

/** Index of a list that a key names: a number, or `#id` of an item; a list that has no such item is given a new one. */
function indexIn(list: unknown[], key: string): number {
  if (!key.startsWith('#')) return Number(key);
  const found = list.findIndex(
    (item) => isRecord(item as Json) && (item as Record<string, unknown>)['id'] === key.slice(1),
  );
  return found < 0 ? list.length : found;
}

/** The same value with one place set, dotted or key by key; `undefined` removes it. Indexes are numbers between dots. */
export function put<T>(value: T, place: string | readonly string[], next: unknown): T {
  const [head = '', ...rest] = keysOfPlace(place);
  if (Array.isArray(value)) {
    const copy: unknown[] = [...(value as unknown[])];
    const index = indexIn(copy, head);
    if (rest.length === 0 && next === undefined) copy.splice(index, 1);
    else copy[index] = rest.length === 0 ? next : put(copy[index], rest, next);
    return copy as T;
  }
  const record = (value ?? {}) as Record<string, unknown>;
  const inner = rest.length === 0 ? next : put(record[head], rest, next);
  if (inner === undefined) {
    return Object.fromEntries(Object.entries(record).filter(([k]) => k !== head)) as T;
  }
  return { ...record, [head]: inner } as T;
}

/** What stands at a place, dotted or key by key. */
export function get(value: unknown, place: string | readonly string[]): unknown {
  return keysOfPlace(place).reduce<unknown>((at, key) => {
    if (typeof at !== 'object' || at === null) return undefined;
    if (Array.isArray(at)) return (at as unknown[])[indexIn(at, key)];
    return (at as Record<string, unknown>)[key];
  }, value);
}
