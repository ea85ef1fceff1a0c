import { useContext } from 'react';
import type { Band } from '../api/types';
import { show } from '../units/units';
import { CurrencyContext, useUnits } from '../units/UnitsContext';

/** How a claim stands: glyph, word and colour. */
export const verdicts = {
  met: { glyph: '●', word: 'met', color: 'success.main' },
  likely: { glyph: '◕', word: 'likely', color: 'success.main' },
  unlikely: { glyph: '◔', word: 'unlikely', color: 'warning.main' },
  missed: { glyph: '○', word: 'missed', color: 'error.main' },
  cannot_tell: { glyph: '?', word: 'cannot tell', color: 'text.secondary' },
} as const;

/** A stored figure of a claim with its unit; money takes the brief's currency. */
export function useClaimFigure() {
  const system = useUnits();
  const currency = useContext(CurrencyContext);
  return (value: number, unit: string, places?: number) =>
    unit === 'money'
      ? { text: show(Math.round(value), '', system, 7).text, unit: currency }
      : show(
          value,
          unit,
          system,
          places === undefined ? 3 : Math.max(1, places + 1 + Math.floor(Math.log10(Math.max(Math.abs(value), 1e-9)))),
        );
}

/** What is said where a figure has no value: a trip is not followed, a speed never reached. */
export const absentWord = (figureId: string) => (figureId.startsWith('trip.') ? 'not followed' : 'not reached');

/** Ends of a band in words: "66.7 to 79.6". */
export function bandWords(band: Band, figure: (value: number, unit: string) => { text: string; unit: string }) {
  const end = (v: number | null | undefined) => (v == null ? absentWord(band.id) : figure(v, band.unit).text);
  if (band.p10 == null && band.p90 == null) return absentWord(band.id);
  return `${end(band.p10)} to ${end(band.p90)}`;
}
