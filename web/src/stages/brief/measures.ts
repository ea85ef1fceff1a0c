import type { Brief, Measure, Trip, UnitSystem } from '../../api/types';
import catalogue from '../../units/catalogue.json' with { type: 'json' };
import { convert, field, shownUnit } from '../../units/units';

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
  /** Numbers of the measure, keys of the field catalogue in the order of filling in. */
  keys: string[];
  reference?: 'trip' | 'socket';
  /** First guesses in round figures of the one system and the other. */
  metric: Measure;
  imperial: Measure;
}

const numbersOf = (measure: Measure) => measure as unknown as Record<string, number>;

/** As the program describes them: the form of every kind of goal follows from this. */
export const measureKinds = Object.fromEntries(
  (catalogue.measures as unknown as Omit<Kind, 'reference'>[]).map((m): [string, Kind] => [
    m.metric.kind,
    {
      ...m,
      reference: 'trip' in m.metric ? 'trip' : 'socket' in m.metric ? 'socket' : undefined,
    },
  ]),
) as Record<Measure['kind'], Kind>;

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

/** A first guess at what is asked, each number a round one in the unit shown; the person corrects it. */
export function newMeasure(kind: Measure['kind'], brief: Brief, system: UnitSystem): Measure {
  const { keys, reference, metric, imperial } = measureKinds[kind];
  const made = keys.map((key) => {
    const { unit } = field('Measure', key);
    return [key, numbersOf(shownUnit(unit, system) === unit ? metric : imperial)[key]];
  });
  const named = {
    trip: brief.trips?.[0]?.id ?? brief.schedules?.[0] ?? '',
    socket: brief.sockets?.[0]?.id ?? '',
  };
  return { ...metric, ...(reference && { [reference]: named[reference] }), ...Object.fromEntries(made) } as Measure;
}

export function newTrip(taken: string[], system: UnitSystem): Trip {
  const [distance_km, speed_kmh] = [round(10, 'km', 6, system), round(50, 'km/h', 30, system)];
  const segment = { distance_km, speed_kmh, stops_per_km: 0.5, climb_m: 0, acceleration_m_s2: 0.8, stop_s: 10 };
  return { id: freshId('trip', taken), name: 'New trip', path: { segments: [segment] }, hvac_w: 0 };
}
