import type { Part } from '../api/types';
import { kindWordsOf } from './summary';

/** What a picker's list is narrowed by. */
export interface Filter {
  words: string;
  /** Kind of motor, kind it drives, or chemistry; empty for all. */
  kind: string;
  /** Voltage the part must bear or give; absent for any. */
  volts?: number | undefined;
  /** Price it may have; absent for any. A part without a price is not within it. */
  price?: number | undefined;
}

/** The kinds a part is of or made for. */
export function kindsOf(part: Part): string[] {
  switch (part.part) {
    case 'motor':
      return [part.kind];
    case 'controller':
      return part.motor_kinds;
    case 'module':
      return [part.chemistry];
    case 'charger':
    case 'component':
      return [];
  }
}

/** Whether a part can work at a voltage: within what it bears, ends at or is wound for; a module is one of many in series. */
function bears(part: Part, volts: number): boolean {
  switch (part.part) {
    case 'motor':
      // What nobody rates is no reason to leave it out.
      return volts <= (part.max_voltage_v ?? Number.POSITIVE_INFINITY);
    case 'controller':
      return part.min_voltage_v <= volts && volts <= part.max_voltage_v;
    case 'module':
      return part.nominal_voltage_v * (part.cells_in_series ?? 1) <= volts;
    case 'component':
      return volts <= (part.max_voltage_v ?? Number.POSITIVE_INFINITY);
    case 'charger':
      return part.output_min_v <= volts && volts <= part.output_max_v;
  }
}

/** Whether a part passes; `told` is all that is shown of it in words. */
export function passes(part: Part, filter: Filter, told: string): boolean {
  const words = filter.words
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
  const text = told.toLowerCase();
  return (
    words.every((w) => text.includes(w)) &&
    (filter.kind === '' || kindsOf(part).includes(filter.kind)) &&
    (filter.volts === undefined || bears(part, filter.volts)) &&
    (filter.price === undefined || ((part.price ?? 0) > 0 && (part.price ?? 0) <= filter.price))
  );
}

/** Kinds among some parts, each with its words, in the order of the words. */
export const kindsAmong = (parts: Part[]): [string, string][] =>
  [...new Set(parts.flatMap(kindsOf))]
    .map((kind): [string, string] => [kind, kindWordsOf(kind)])
    .sort((a, b) => a[1].localeCompare(b[1]));
