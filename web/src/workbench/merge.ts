/** Plain JSON. */
export type Json = null | boolean | number | string | Json[] | { [key: string]: Json };

/** One place that both sides changed differently. */
export interface Clash {
  /** For people and keys of lists. */
  path: string;
  /** Key by key, for [`put`]; a key may hold dots, and `#key` stands for the item of a list that has the id or the name. */
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

/** Whether nothing is said: the service stores no record of which nothing is left, where a page that took its last value out holds an empty one. */
const isBlank = (value: Json | undefined): boolean =>
  value === undefined || (isRecord(value) && Object.values(value).every((v) => isBlank(v as Json | undefined)));

/** What an item of a list is known by. */
type KnownBy = 'id' | 'name';

const text = (item: Json | undefined, key: string) => {
  const value = isRecord(item) ? item[key] : undefined;
  return typeof value === 'string' ? value : undefined;
};

/**
 * Key of each item of a list: its id where every item has its own, else its name (of a mount: what it holds), numbered where several have
 * the same. A list whose items have neither is a whole value, since its places have no names.
 */
function itemKeys(list: unknown): { by: KnownBy; keys: string[] } | null {
  if (!Array.isArray(list)) return null;
  const items = list as Json[];
  const ids = items.map((item) => text(item, 'id'));
  const distinct = new Set(ids);
  if (!distinct.has(undefined) && distinct.size === ids.length) return { by: 'id', keys: ids as string[] };
  const seen = new Map<string, number>();
  const keys: string[] = [];
  for (const item of items) {
    const parts = [text(item, 'of'), text(item, 'name')].filter((part) => part !== undefined);
    if (parts.length === 0 || text(item, 'id') !== undefined) return null;
    const name = parts.join(' ');
    const nth = (seen.get(name) ?? 0) + 1;
    seen.set(name, nth);
    keys.push(nth === 1 ? name : `${name} (${String(nth)})`);
  }
  // A name may end in a number of its own.
  return new Set(keys).size === keys.length ? { by: 'name', keys } : null;
}

/**
 * Which item of the base each item of a side is, by its key. In lists known by names an item that stands where another stood, while that
 * name is gone, is the same one renamed: else what one side renamed and the other edited would be there twice.
 */
function asInBase(side: string[], base: string[]): string[] {
  if (side.length !== base.length) return side;
  return side.map((key, i) => {
    const was = base[i];
    return was !== undefined && !base.includes(key) && !side.includes(was) ? was : key;
  });
}

/**
 * Three-way merge of JSON records: what only one side changed is taken from it, key by key, and in lists item by item where items have
 * ids or names. Where both changed the same place differently, `mine` stands and the clash is listed. What one side removed and the other changed
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
    if (isBlank(m) && isBlank(t)) return undefined;
    const list = mergedList(b ?? [], m, t, place);
    if (list) return list;
    clashes.push({ path: place.join('.'), place, mine: m, theirs: t });
    return m;
  };
  const mergedList = (b: Json, m: Json | undefined, t: Json | undefined, place: string[]): Json[] | null => {
    const [before, own, others] = [itemKeys(b), itemKeys(m), itemKeys(t)];
    if (!before || !own || !others) return null;
    const kinds = [before, own, others].filter((side) => side.keys.length > 0).map((side) => side.by);
    if (new Set(kinds).size > 1) return null;
    const itemsOf = (list: Json | undefined, keys: string[]) =>
      new Map(keys.map((key, i) => [key, (list as Json[])[i]] as const));
    const named = kinds[0] === 'name';
    const known = (keys: string[]) => (named ? asInBase(keys, before.keys) : keys);
    const was = itemsOf(b, before.keys);
    const [mineNow, theirsNow] = [itemsOf(m, known(own.keys)), itemsOf(t, known(others.keys))];
    const listed = clashes.length;
    const result: { item: Json; from: number; to: number }[] = [];
    // In the order of this side; what the other side added comes behind.
    for (const key of new Set([...mineNow.keys(), ...theirsNow.keys()])) {
      const [old, here, there] = [was.get(key), mineNow.get(key), theirsNow.get(key)];
      const from = clashes.length;
      // Removed here or there, and changed by nobody since: gone. Changed since: kept.
      let item: Json | undefined;
      if (here === undefined) item = same(old, there) ? undefined : there;
      else if (there === undefined) item = same(old, here) ? undefined : here;
      else item = walk(old, here, there, [...place, `#${key}`]);
      if (item !== undefined) result.push({ item, from, to: clashes.length });
    }
    const merged = result.map((r) => r.item);
    // A clash is settled in the merged list, where its item may have another name.
    const keys = itemKeys(merged)?.keys;
    if (!keys) {
      clashes.length = listed;
      return null;
    }
    result.forEach((r, i) => {
      for (const clash of clashes.slice(r.from, r.to)) {
        clash.place[place.length] = `#${keys[i] ?? ''}`;
        clash.path = clash.place.join('.');
      }
    });
    return merged;
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

/** Index of a list that a key names: a number, or `#` and the key of an item; a list that has no such item is given a new one. */
function indexIn(list: unknown[], key: string): number {
  if (!key.startsWith('#')) return Number(key);
  const found = itemKeys(list)?.keys.indexOf(key.slice(1)) ?? -1;
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
