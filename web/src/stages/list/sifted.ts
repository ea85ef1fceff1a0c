import type { ConversionSummary } from '../../api/types';
import { kindWords } from '../../common/kinds';

export type Order = 'changed' | 'name' | 'kind';

const word = (c: ConversionSummary) => kindWords[c.kind as keyof typeof kindWords];
const by = (text: (c: ConversionSummary) => string) => (a: ConversionSummary, b: ConversionSummary) =>
  text(a).localeCompare(text(b), 'en', { numeric: true, sensitivity: 'base' });

/** Orders of the list. */
export const orders: Record<Order, { word: string; compare: (a: ConversionSummary, b: ConversionSummary) => number }> =
  {
    changed: { word: 'last change', compare: (a, b) => Date.parse(b.updated_at) - Date.parse(a.updated_at) },
    name: { word: 'name', compare: by((c) => c.name) },
    kind: { word: 'kind', compare: by((c) => `${word(c)} ${c.name}`) },
  };

/** Conversions of which name, kind or notes hold every word sought, in an order. */
export function sifted(all: ConversionSummary[], sought: string, order: Order): ConversionSummary[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const holds = (c: ConversionSummary) => {
    const text = `${c.name} ${word(c)} ${c.notes}`.toLowerCase();
    return words.every((w) => text.includes(w));
  };
  return all.filter(holds).sort(orders[order].compare);
}
