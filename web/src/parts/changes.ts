import type { RatingChange, UnitSystem } from '../api/types';
import { fieldAt, figures, showText } from '../units/units';

/** What differs of a record, by the words and units of its fields. */
export function changeWords({ key, was, is }: RatingChange, system: UnitSystem): string {
  // Where a value comes from stands below its key.
  const source = /^sources\.(\w+)/.exec(key)?.[1];
  const of = fieldAt(source ?? key);
  const word = of?.label ?? (source ?? key).replaceAll('_', ' ');
  const told = (value: string) => {
    if (value === '' || value === 'null') return 'not said';
    if (source !== undefined || !of || !Number.isFinite(Number(value))) return value;
    return of.unit === 'money' ? figures(Number(value), 4) : showText(Number(value), of.unit, system, 4);
  };
  return `${word}${source === undefined ? '' : ', source'}: ${told(was)} → ${told(is)}`;
}
