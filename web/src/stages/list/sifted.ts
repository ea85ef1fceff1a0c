import type { ConversionSummary, VariantGlance } from '../../api/types';
import { kindWords } from '../../common/kinds';

export type Order = 'changed' | 'name' | 'kind' | 'trouble';

const word = (c: ConversionSummary) => kindWords[c.kind as keyof typeof kindWords];
const by = (text: (c: ConversionSummary) => string) => (a: ConversionSummary, b: ConversionSummary) =>
  text(a).localeCompare(text(b), 'en', { numeric: true, sensitivity: 'base' });

/** How far a conversion is from being ready, by its best variant: stops first, then goals missed; one that cannot be told is in between. */
export function troubleOf(variants: VariantGlance[]): number {
  const of = (v: VariantGlance) =>
    v.problem != null ? 50 : 100 * v.stops + v.claims.filter((c) => c.verdict === 'missed').length;
  return variants.length === 0 ? 50 : Math.min(...variants.map(of));
}

const byName = by((c) => c.name);

/** Orders of the list; `trouble` tells it by id. */
export const orders: Record<
  Order,
  {
    word: string;
    compare: (a: ConversionSummary, b: ConversionSummary, trouble: ReadonlyMap<string, number>) => number;
  }
> = {
  changed: { word: 'last change', compare: (a, b) => Date.parse(b.updated_at) - Date.parse(a.updated_at) },
  name: { word: 'name', compare: byName },
  kind: { word: 'kind', compare: by((c) => `${word(c)} ${c.name}`) },
  trouble: {
    word: 'most trouble first',
    compare: (a, b, trouble) => (trouble.get(b.id) ?? 0) - (trouble.get(a.id) ?? 0) || byName(a, b),
  },
};

/** Conversions of which name, kind or notes hold every word sought, in an order. */
export function sifted(
  all: ConversionSummary[],
  sought: string,
  order: Order,
  trouble: ReadonlyMap<string, number> = new Map(),
): ConversionSummary[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const holds = (c: ConversionSummary) => {
    const text = `${c.name} ${word(c)} ${c.notes}`.toLowerCase();
    return words.every((w) => text.includes(w));
  };
  return all.filter(holds).sort((a, b) => orders[order].compare(a, b, trouble));
}
