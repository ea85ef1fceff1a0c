import type { Answers, UnitSystem, VehicleKind } from '../api/types';
import catalogue from './catalogue.json' with { type: 'json' };

/** A unit of the shared table: `base = value * factor + offset`. */
interface Unit {
  symbol: string;
  dimension: string;
  factor: number;
  offset: number;
  aliases: string[];
}

/** A number of the field catalogue. */
export interface Field {
  key: string;
  label: string;
  unit: string;
  min: number;
  max: number;
  whole: boolean;
  required: boolean;
  /** Whether sellers overstate it, so that a claim may fall far short. */
  claimable: boolean;
  default: string;
}

const units: Unit[] = catalogue.units;
const fields: Record<string, Record<string, Field>> = catalogue.fields;

/** The catalogue's entry of a number, such as `field('Donor', 'curb_mass_kg')`. */
export function field(group: string, key: string): Field {
  const found = fields[group]?.[key];
  if (!found) throw new Error(`no field ${group}.${key}`);
  return found;
}

/** What is assumed of a kind of vehicle where nobody knows. */
export const assumed = (kind: VehicleKind): Answers => catalogue.assumed[kind];

/** What counts of a donor of a kind where nobody knows: the handbook's value, or none for what the handbook does not tell. */
export const typicalDonor = (kind: VehicleKind): Partial<Record<string, number>> => catalogue.donors[kind];

/** Keys of a record's numbers, in the order of the catalogue. */
export const keysOf = (group: string): string[] => Object.keys(fields[group] ?? {});

const bySymbol = (symbol: string) => units.find((u) => u.symbol === symbol);

/** Small lengths and single resistances read better in their own unit; the system's choice holds for the rest. */
const shownInstead: Partial<Record<string, string>> = { Ω: 'mΩ' };

/** Symbol in which a value stored in `unit` is shown. */
export function shownUnit(unit: string, system: UnitSystem): string {
  if (unit in shownInstead) return shownInstead[unit] ?? unit;
  const dimension = bySymbol(unit)?.dimension;
  const row = catalogue.systems.find((s) => s.dimension === dimension);
  return row ? row[system] : unit;
}

/** Converts between two units of one dimension; a unit that the table does not know stays as it is. */
export function convert(value: number, from: string, to: string): number {
  // One symbol may stand in two dimensions (minutes of a time, minutes of charging hours): both units must share one.
  for (const a of units.filter((u) => u.symbol === from)) {
    const b = units.find((u) => u.symbol === to && u.dimension === a.dimension);
    if (b) return (value * a.factor + a.offset - b.offset) / b.factor;
  }
  return value;
}

/** Digits after the point for about `significant` figures, never more than needed. */
export function digits(value: number, significant = 3): number {
  const size = Math.abs(value);
  if (size === 0 || !Number.isFinite(size)) return 0;
  return Math.min(6, Math.max(0, significant - 1 - Math.floor(Math.log10(size))));
}

/** Figures only, grouped by thin spaces, with a true minus. */
export function figures(value: number, significant = 3): string {
  const text = value.toLocaleString('en', { maximumFractionDigits: digits(value, significant), useGrouping: true });
  return text.replaceAll(',', ' ').replace('-', '−');
}

/** A stored value as figures and unit in the chosen system. */
export function show(value: number, unit: string, system: UnitSystem, significant = 3): { text: string; unit: string } {
  const to = shownUnit(unit, system);
  return { text: figures(convert(value, unit, to), significant), unit: to };
}

/** A stored value as one string. */
export function showText(value: number, unit: string, system: UnitSystem, significant = 3): string {
  const shown = show(value, unit, system, significant);
  return shown.unit === '' ? shown.text : `${shown.text}${shown.unit === '%' ? ' %' : ` ${shown.unit}`}`;
}

/** What is put into an input: enough figures to come back to the same value. */
export function inputText(value: number, unit: string, system: UnitSystem): string {
  const shown = convert(value, unit, shownUnit(unit, system));
  return String(Number(shown.toPrecision(7)));
}

export type Parsed = { value: number } | { error: string };

const normal = (text: string) => text.toLowerCase().replaceAll(/[\s.·]/g, '');

/** A number as typed, with a comma or a point. */
const plain = (typed: string | undefined) => Number((typed ?? '').replace(',', '.'));

/**
 * Reads what a person typed into a field: a number with or without a unit. Without one, the unit shown beside the field
 * is meant. A decimal comma is understood; a unit that does not belong to the field, or no number at all, is refused. A ratio may be
 * given by its teeth: 45/15.
 */
export function parse(text: string, of: Field, system: UnitSystem): Parsed {
  const shown = shownUnit(of.unit, system);
  const accepted = `${rangeText(of, system)} accepted`;
  const teeth = of.key === 'ratio' ? /^\s*(\d+(?:[.,]\d+)?)\s*[/:]\s*(\d+(?:[.,]\d+)?)\s*$/.exec(text) : null;
  const match = teeth ?? /^\s*([-+−]?[\d\s]*[.,]?\d+(?:e[-+]?\d+)?)\s*(.*?)\s*$/i.exec(text);
  if (!match) return { error: `"${text.trim()}" is no number; ${accepted}` };
  const number = teeth
    ? plain(teeth[1]) / plain(teeth[2])
    : Number((match[1] ?? '').replaceAll(/\s/g, '').replace('−', '-').replace(',', '.'));
  const typed = teeth ? '' : (match[2] ?? '');
  const dimension = bySymbol(of.unit)?.dimension;
  let value: number;
  if (typed === '' || typed === of.unit || (typed === '%' && of.unit === '' && of.max <= 2)) {
    value = typed === '' ? convert(number, shown, of.unit) : typed === '%' && of.unit === '' ? number / 100 : number;
  } else {
    const wanted = normal(typed);
    // Upper and lower case tell milli from mega only in symbols; aliases are lower case.
    const unit =
      units.find((u) => u.dimension === dimension && u.symbol === typed) ??
      units.find(
        (u) =>
          u.dimension === dimension && (normal(u.symbol) === wanted || u.aliases.some((a) => normal(a) === wanted)),
      );
    if (!unit) {
      const known = units.filter((u) => u.dimension === dimension).map((u) => u.symbol);
      const bare =
        of.key === 'ratio' ? 'a plain number, or teeth such as 45/15, is accepted' : 'a plain number is accepted';
      const list = dimension === undefined ? bare : `accepted are ${known.join(', ')}`;
      return { error: `"${typed}" is no unit of ${of.label.toLowerCase()}; ${list}` };
    }
    value = convert(number, unit.symbol, of.unit);
  }
  if (!Number.isFinite(value)) return { error: `"${text.trim()}" is no number; ${accepted}` };
  if (value < of.min || value > of.max) return { error: `${text.trim()} is out of range; ${accepted}` };
  if (of.whole && !Number.isInteger(value)) return { error: `${text.trim()} is not whole; ${accepted}` };
  return { value };
}

/** The accepted range in the units shown. */
export function rangeText(of: Field, system: UnitSystem): string {
  const shown = shownUnit(of.unit, system);
  const end = (v: number) => figures(convert(v, of.unit, shown), 4);
  return `${end(of.min)} to ${end(of.max)}${shown === '' ? '' : ` ${shown}`}`;
}
