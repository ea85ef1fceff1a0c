import type { Answers, ComponentKind, UnitSystem, VehicleKind } from '../api/types';
import { meant } from './number';
import catalogue from './catalogue.json' with { type: 'json' };

/** A unit of the shared table: `base = value * factor + offset`. */
interface Unit {
  symbol: string;
  dimension: string;
  factor: number;
  offset: number;
  /** Counts the other way round: `base = factor / value`. */
  inverse: boolean;
  aliases: string[];
}

/** A number of the field catalogue. */
export interface Field {
  key: string;
  label: string;
  unit: string;
  /** What it measures, by which a unit system shows it; empty for what has no choice of units. */
  dimension: string;
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

/** Kinds of component with their words, the numbers that a record of each may have, and those it must. */
export const componentKinds: { kind: ComponentKind; word: string; numbers: string[]; needs: string[] }[] =
  catalogue.components as {
    kind: ComponentKind;
    word: string;
    numbers: string[];
    needs: string[];
  }[];

/** Signals of throttles, with their words. */
export const throttleSignals: [string, string][] = catalogue.signals.map((s) => [s.id, s.word]);

/** What is assumed of a kind of vehicle where nobody knows. */
export const assumed = (kind: VehicleKind): Answers => catalogue.assumed[kind];

/** What counts of a donor of a kind where nobody knows: the handbook's value, or none for what the handbook does not tell. */
export const typicalDonor = (kind: VehicleKind): Partial<Record<string, number>> => catalogue.donors[kind];

const lastKey = (path: string) =>
  path
    .split(/[.[\]]+/)
    .filter((k) => k !== '')
    .at(-1) ?? '';

/** The catalogue's entry of the number at the end of a path, wherever it has one of its key. */
export function fieldAt(path: string): Field | undefined {
  const key = lastKey(path);
  return Object.values(fields).find((group) => key in group)?.[key];
}

/** What the field at the end of a path is called, where the catalogue has one of its key; empty else. */
export const labelOf = (path: string): string => fieldAt(path)?.label ?? '';

/** What a field is called in a message: by its label, else by its key in words. */
export const nameOf = (path: string): string => {
  const words = lastKey(path).replaceAll('_', ' ');
  return labelOf(path) || words.charAt(0).toUpperCase() + words.slice(1);
};

/** Whether a number must be given, always or in the record it stands in. */
export const isNeeded = (of: Field) => of.required || of.default.startsWith('required');

/** What is said of fields that are still empty: all of them at once, by their labels; empty when there are none. */
export const neededWords = (labels: string[]) => (labels.length === 0 ? '' : `Still needed: ${labels.join(', ')}.`);

/** Keys of a record's numbers, in the order of the catalogue. */
export const keysOf = (group: string): string[] => Object.keys(fields[group] ?? {});

const bySymbol = (symbol: string) => units.find((u) => u.symbol === symbol);

/** Single resistances read better in their own unit; the system's choice holds for the rest. */
const shownInstead: Partial<Record<string, string>> = { Ω: 'mΩ' };

/** Symbol in which a value stored in `unit` is shown; the dimension is told where the unit stands in several. */
export function shownUnit(unit: string, system: UnitSystem, dimension = bySymbol(unit)?.dimension): string {
  if (unit in shownInstead && dimension === bySymbol(unit)?.dimension) return shownInstead[unit] ?? unit;
  const row = catalogue.systems.find((s) => s.dimension === dimension);
  return row ? row[system] : unit;
}

/** Converts between two units of one dimension; a unit that the table does not know stays as it is. */
export function convert(value: number, from: string, to: string): number {
  if (from === to) return value;
  // One symbol may stand in two dimensions (minutes of a time, minutes of charging hours): both units must share one.
  for (const a of units.filter((u) => u.symbol === from)) {
    const b = units.find((u) => u.symbol === to && u.dimension === a.dimension);
    if (!b) continue;
    const base = a.inverse ? a.factor / value : value * a.factor + a.offset;
    return b.inverse ? b.factor / base : (base - b.offset) / b.factor;
  }
  return value;
}

/** Digits after the point for about `significant` figures, never more than needed. */
export function digits(value: number, significant = 3): number {
  const size = Math.abs(value);
  if (size === 0 || !Number.isFinite(size)) return 0;
  return Math.min(6, Math.max(0, significant - 1 - Math.floor(Math.log10(size))));
}

/** One writer for each number of digits after the point: making one takes a hundred times as long as using it. */
const writers = Array.from(
  { length: 7 },
  (_, maximumFractionDigits) => new Intl.NumberFormat('en', { maximumFractionDigits, useGrouping: true }),
);

/** Figures only, grouped by thin spaces, with a true minus. */
export function figures(value: number, significant = 3): string {
  const text = writers[digits(value, significant)]?.format(value) ?? String(value);
  return text.replaceAll(',', ' ').replace('-', '−');
}

/** A stored value as figures and unit in the chosen system. */
export function show(
  value: number,
  unit: string,
  system: UnitSystem,
  significant = 3,
  dimension?: string,
): { text: string; unit: string } {
  const to = shownUnit(unit, system, dimension);
  return { text: figures(convert(value, unit, to), significant), unit: to };
}

/** A stored value as one string. */
export function showText(value: number, unit: string, system: UnitSystem, significant = 3, dimension?: string): string {
  const shown = show(value, unit, system, significant, dimension);
  return shown.unit === '' ? shown.text : `${shown.text} ${shown.unit}`;
}

/** Figures of a field that are shown when its unit is not the stored one; what is stored keeps them all. */
const shownFigures = 4;

/** What is put into an input: the value as stored, or rounded where it is told in another unit. */
export function inputText(value: number, of: Field, system: UnitSystem): string {
  const unit = shownUnit(of.unit, system, of.dimension);
  return String(Number(convert(value, of.unit, unit).toPrecision(unit === of.unit ? 7 : shownFigures)));
}

export type Parsed = { value: number } | { error: string };

const normal = (text: string) => text.toLowerCase().replaceAll(/[\s.·]/g, '');

/** The unit of a field's dimension that a person means, or undefined. Case tells milli from mega in symbols only. */
function unitOf(typed: string, of: Field): Unit | undefined {
  const wanted = normal(typed);
  const own = units.filter((u) => u.dimension === of.dimension);
  return (
    own.find((u) => u.symbol === typed) ??
    own.find((u) => normal(u.symbol) === wanted || u.aliases.some((a) => normal(a) === wanted))
  );
}

/** A ratio by its teeth, 45/15, or a section by its gauge, AWG 2 or 2/0; undefined for all else. */
function special(text: string, of: Field): number | undefined {
  if (of.key === 'ratio') {
    const teeth = /^\s*(\d+(?:[.,]\d+)?)\s*[/:]\s*(\d+(?:[.,]\d+)?)\s*$/.exec(text);
    const plain = (typed = '') => Number(typed.replace(',', '.'));
    return teeth ? plain(teeth[1]) / plain(teeth[2]) : undefined;
  }
  if (of.unit !== 'mm²') return undefined;
  const gauge = /^\s*(?:awg\s*)?([1-4]\/0)\s*(?:awg)?\s*$|^\s*(?:awg\s*(\d+)|(\d+)\s*awg)\s*$/i.exec(text);
  const name = gauge?.[1] ?? gauge?.[2] ?? gauge?.[3];
  const known = catalogue.wire_gauges.find((g) => g.name === (name === '0' ? '1/0' : name));
  return known && Number(known.mm2.toPrecision(4));
}

/** The American wire gauge nearest to a section, in words. */
export function nearestGauge(mm2: number): string {
  const off = (g: { mm2: number }) => Math.abs(Math.log(g.mm2 / mm2));
  const nearest = catalogue.wire_gauges.reduce((a, b) => (off(b) < off(a) ? b : a));
  return `${off(nearest) < 0.02 ? '' : 'about '}AWG ${nearest.name}`;
}

/** A bound told in another unit is rounded; what lies over it by no more than that is the bound. */
function withinAHair(value: number, of: Field, shown: string): number {
  if (shown === of.unit) return value;
  const near = [of.min, of.max].find((bound) => Math.abs(value - bound) <= 10 ** (1 - shownFigures) * Math.abs(bound));
  return near !== undefined && (value < of.min || value > of.max) ? near : value;
}

/**
 * Reads what a person typed into a field: a number with or without a unit. Without one, the unit shown beside the field
 * is meant. Decimal commas and thousands are told apart by what the field accepts, or asked about; a unit that does not belong to the
 * field, or no number at all, is refused.
 */
export function parse(text: string, of: Field, system: UnitSystem): Parsed {
  const shown = shownUnit(of.unit, system, of.dimension);
  const accepted = `${rangeText(of, system)} accepted`;
  const nonsense = { error: `"${text.trim()}" is no number; ${accepted}` };
  const byName = special(text, of);
  const match = /^\s*([-+−]?(?:\d{1,3}(?:\s\d{3})+(?:[.,]\d+)?|[\d.,']*\d[.,]?)(?:e[-+]?\d+)?)\s*(.*?)\s*$/i.exec(text);
  if (byName === undefined && !match) return nonsense;
  const typed = byName === undefined ? (match?.[2] ?? '') : '';
  const share = typed === '%' && of.unit === '' && of.max <= 2;
  const unit = typed === '' ? undefined : unitOf(typed, of);
  if (typed !== '' && unit === undefined && typed !== of.unit && !share) {
    const known = units.filter((u) => u.dimension === of.dimension).map((u) => u.symbol);
    const bare =
      of.key === 'ratio'
        ? 'a plain number, or teeth such as 45/15, is accepted'
        : of.unit === 'mm²'
          ? 'mm², or a gauge such as AWG 2 or 2/0, is accepted'
          : 'a plain number is accepted';
    return {
      error: `"${typed}" is no unit of ${of.label.toLowerCase()}; ${known.length === 0 ? bare : `accepted are ${known.join(', ')}`}`,
    };
  }
  const stored = (n: number) =>
    share ? n / 100 : typed === of.unit && typed !== '' ? n : convert(n, unit?.symbol ?? shown, of.unit);
  const within = (v: number) => {
    const near = withinAHair(v, of, shown);
    return near >= of.min && near <= of.max && (!of.whole || Number.isInteger(near));
  };
  const number = byName ?? meant(match?.[1] ?? '', (n) => within(stored(n)));
  if (number === undefined) return nonsense;
  if (typeof number !== 'number') {
    const [decimal, thousands] = number.map(String);
    return { error: `"${text.trim()}" can be ${decimal ?? ''} or ${thousands ?? ''}; write it without the comma` };
  }
  const value = byName ?? withinAHair(stored(number), of, shown);
  if (!Number.isFinite(value)) return nonsense;
  if (value < of.min || value > of.max) return { error: `${text.trim()} is out of range; ${accepted}` };
  if (of.whole && !Number.isInteger(value)) return { error: `${text.trim()} is not whole; ${accepted}` };
  return { value };
}

/** The accepted range in the units shown. */
export function rangeText(of: Field, system: UnitSystem): string {
  const shown = shownUnit(of.unit, system, of.dimension);
  const [low, high] = [of.min, of.max]
    .map((v) => convert(v, of.unit, shown))
    .sort((a, b) => a - b)
    .map((v, i) => {
      // Rounded inwards, so that what is said to be accepted is.
      const step = 10 ** digits(v, 4);
      return figures((i === 0 ? Math.ceil(v * step - 1e-6) : Math.floor(v * step + 1e-6)) / step, 4);
    });
  return `${low ?? ''} to ${high ?? ''}${shown === '' ? '' : ` ${shown}`}`;
}
