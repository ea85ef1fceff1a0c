import type { Sentence, UnitSystem } from '../api/types';
import { convert, figures, shownUnit, showText } from './units';

/** A sentence of the core in the units shown: as many figures as it was told with. */
export function said(sentence: Sentence, system: UnitSystem, currency: string): string {
  return sentence
    .map((piece) => {
      if (typeof piece === 'string') return piece;
      const { value, unit, digits } = piece;
      const fixed = figures(Number(value.toFixed(digits)), 15);
      if (unit === 'money') return `${fixed} ${currency}`.trim();
      const dimension = piece.dimension ?? undefined;
      const to = shownUnit(unit, system, dimension);
      if (to === unit) return unit === '' ? fixed : `${fixed} ${unit}`;
      // As fine a step in the other unit: its figures before the point, and the digits that were told after it.
      const [from, then] = [Math.abs(value), Math.abs(convert(value, unit, to))].map((v) =>
        Math.floor(Math.log10(Math.max(v, 1))),
      );
      const significant = Math.max(2, (from ?? 0) + 1 + digits + ((then ?? 0) > (from ?? 0) ? 1 : 0));
      return showText(value, unit, system, significant, dimension);
    })
    .join('');
}
