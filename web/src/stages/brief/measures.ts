import type { Brief, Measure, Trip, UnitSystem } from '../../api/types';
import { convert, shownUnit } from '../../units/units';

type Schedule = NonNullable<Brief['schedules']>[number];

export const schedules: Record<Schedule, string> = {
  wltc1: 'WLTC class 1',
  wltc2: 'WLTC class 2',
  wltc3a: 'WLTC class 3a',
  wltc3b: 'WLTC class 3b',
  udds: 'UDDS',
  hwfet: 'HWFET',
  nedc: 'NEDC',
  ece15: 'ECE 15',
  j227a_b: 'SAE J227a B',
  j227a_c: 'SAE J227a C',
  j227a_d: 'SAE J227a D',
};

export const manners: [string, string][] = [
  ['gentle', 'gently'],
  ['normal', 'normally'],
  ['brisk', 'briskly'],
];

interface Kind {
  word: string;
  /** Numbers of the measure, keys of the field catalogue. */
  keys: string[];
  reference?: 'trip' | 'socket';
}

/** Described once: the form of every kind of goal follows from this. */
export const measureKinds: Record<Measure['kind'], Kind> = {
  range: { word: 'Range on a trip', keys: ['at_least_km'], reference: 'trip' },
  energy_use: { word: 'Energy use on a trip', keys: ['at_most_wh_per_km'], reference: 'trip' },
  top_speed: { word: 'Top speed', keys: ['at_least_kmh'] },
  acceleration: { word: 'Time between two speeds', keys: ['from_kmh', 'to_kmh', 'at_most_s'] },
  hill_start: { word: 'Start on a hill', keys: ['at_least_percent'] },
  hill_at_speed: { word: 'Hill at a speed', keys: ['speed_kmh', 'at_least_percent'] },
  charge_time: { word: 'Charged within hours', keys: ['at_most_h'], reference: 'socket' },
  cost: { word: 'Cost', keys: ['at_most'] },
  added_mass: { word: 'Added mass', keys: ['at_most_kg'] },
};

export const freshId = (stem: string, taken: string[]) => {
  let n = taken.length + 1;
  while (taken.includes(`${stem}-${String(n)}`)) n += 1;
  return `${stem}-${String(n)}`;
};

/** A round figure in the unit shown, as stored: 80 km/h in one system, 50 mph in another. */
const round = (metric: number, unit: string, other: number, system: UnitSystem) => {
  const shown = shownUnit(unit, system);
  return shown === unit ? metric : convert(other, shown, unit);
};

/** A first guess at what is asked; the person corrects it. */
export function newMeasure(kind: Measure['kind'], brief: Brief, system: UnitSystem): Measure {
  const trip = brief.trips?.[0]?.id ?? brief.schedules?.[0] ?? '';
  switch (kind) {
    case 'range':
      return { kind, trip, at_least_km: round(60, 'km', 40, system) };
    case 'energy_use':
      return { kind, trip, at_most_wh_per_km: round(160, 'Wh/km', 250, system) };
    case 'top_speed':
      return { kind, at_least_kmh: round(80, 'km/h', 50, system) };
    case 'acceleration':
      return { kind, from_kmh: 0, to_kmh: round(50, 'km/h', 30, system), at_most_s: 10 };
    case 'hill_start':
      return { kind, at_least_percent: 15 };
    case 'hill_at_speed':
      return { kind, speed_kmh: round(30, 'km/h', 20, system), at_least_percent: 10, continuous: true };
    case 'charge_time':
      return { kind, socket: brief.sockets?.[0]?.id ?? '', at_most_h: 8 };
    case 'cost':
      return { kind, at_most: 8000 };
    case 'added_mass':
      return { kind, at_most_kg: round(100, 'kg', 200, system) };
  }
}

export function newTrip(taken: string[], system: UnitSystem): Trip {
  const [distance_km, speed_kmh] = [round(10, 'km', 6, system), round(50, 'km/h', 30, system)];
  const segment = { distance_km, speed_kmh, stops_per_km: 0.5, climb_m: 0, acceleration_m_s2: 0.8, stop_s: 10 };
  return { id: freshId('trip', taken), name: 'New trip', path: { segments: [segment] }, hvac_w: 0 };
}
