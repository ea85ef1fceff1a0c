import type { Brief, Measure, Trip, UnitSystem } from '../../api/types';
import catalogue from '../../units/catalogue.json' with { type: 'json' };
import { convert, field, shownUnit } from '../../units/units';
import { freshId } from '../../workbench/ids';

type Schedule = NonNullable<Brief['schedules']>[number];

/** Title of every schedule. */
export const schedules = catalogue.schedules as Record<Schedule, string>;

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

/** What of the brief speaks of a trip or schedule, so that it cannot go; empty when nothing does. */
export function usesOfTrip(brief: Brief, id: string): string {
  if ((brief.goals ?? []).some((g) => 'trip' in g.measure && g.measure.trip === id))
    return 'A goal refers to this trip';
  if ((brief.week?.outings ?? []).some((o) => o.trip === id)) return 'It is made in the usual week';
  if ((brief.years?.journeys ?? []).some((j) => j.trip === id)) return 'A journey is driven like it';
  return '';
}

/** What of the brief speaks of a socket; empty when nothing does. */
export function usesOfSocket(brief: Brief, id: string): string {
  if ((brief.goals ?? []).some((g) => 'socket' in g.measure && g.measure.socket === id))
    return 'A goal refers to this socket';
  if ((brief.week?.stays ?? []).some((s) => s.socket === id)) return 'The usual week charges here';
  if (brief.years?.public_socket === id) return 'Journeys charge here';
  if (brief.search?.socket === id) return 'The search charges here';
  return '';
}
