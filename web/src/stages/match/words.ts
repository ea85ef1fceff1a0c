import type { AxisInfo, Match, MatchRequest, UnitSystem } from '../../api/types';
import { show, showText } from '../../units/units';

export type Axis = AxisInfo['axis'];

/** A design's figure on an axis; null when never reached or not counted. */
export function valueOf(m: Match, axis: Axis): number | null {
  switch (axis) {
    case 'cost':
      return m.cost;
    case 'range':
      return m.range_km ?? null;
    case 'acceleration':
      return m.acceleration_s ?? null;
    case 'added_mass':
      return m.added_kg;
    case 'charge':
      return m.charge_h ?? null;
    case 'hill':
      return m.hill_percent;
  }
}

/** A figure in words: money in the brief's currency, the rest in the units chosen. */
export function figure(
  value: number | null,
  unit: string,
  system: UnitSystem,
  currency: string,
): { text: string; unit: string } {
  if (value === null) return { text: 'never', unit: '' };
  if (unit === 'money') return { text: show(Math.round(value), '', system, 7).text, unit: currency };
  return show(value, unit, system);
}

/** What is proven of the list of a search that was stopped, its first so many being final. */
export function finalWords(settled: number): string {
  if (settled === 0) return 'Better ones may be missing.';
  const first =
    settled === 1
      ? 'The first is final: nothing beats it'
      : `The first ${whole(settled)} are final: nothing beats them`;
  return `${first} or stands above. Further down better ones may be missing.`;
}

export const count = (n: number, one: string, many = `${one}s`) => `${whole(n)} ${n === 1 ? one : many}`;

/** A large count, in words where figures would not be read. */
export function whole(n: number): string {
  if (n >= 1e9) return `${(n / 1e9).toLocaleString('en', { maximumSignificantDigits: 3 })} billion`;
  if (n >= 1e6) return `${(n / 1e6).toLocaleString('en', { maximumSignificantDigits: 3 })} million`;
  return n.toLocaleString('en').replaceAll(',', ' ');
}

/** The pack in a few words. */
export const packWords = (m: Match, system: UnitSystem) =>
  `${m.layout} ${m.chemistry}${m.salvaged ? ', salvaged' : ''}, ${showText(m.usable_kwh, 'kWh', system)} usable`;

/** The motor with how many there are. */
export const motorWords = (m: Match) =>
  `${m.pick.motor_count > 1 ? `${String(m.pick.motor_count)} × ` : ''}${m.pick.motor}`;

/** The conditions of a search in one line. */
export function conditionWords(r: MatchRequest, currency: string): string {
  const said = [
    r.in_hand?.length ? `owned: ${r.in_hand.join(', ')}` : '',
    r.exclude?.length ? `without ${r.exclude.join(', ')}` : '',
    r.current === 'direct' ? 'direct current' : r.current === 'alternating' ? 'alternating current' : '',
    r.cells === 'new' ? 'new cells' : r.cells === 'salvaged' ? 'salvaged cells' : '',
    r.pack?.approach === 'small'
      ? `small pack: ${String(Math.round(r.pack.range_share * 100))} % of the range, full again in ${String(r.pack.charge_h)} h`
      : '',
    r.gearings?.length ? `${String(r.gearings.length)} ways of gearing` : '',
    r.budget == null ? '' : `up to ${String(r.budget)} ${currency}`,
    r.most_added_kg == null ? '' : `at most ${String(r.most_added_kg)} kg added`,
    r.certainty === 'p10' ? 'nine samples in ten' : '',
    r.allow?.length ? count(r.allow.length, 'warning allowed', 'warnings allowed') : '',
  ].filter((s) => s !== '');
  return said.length === 0 ? 'every part in the library, every way of gearing' : said.join('; ');
}

/** As many designs as a search may be asked for. */
export const MOST_LISTED = 10_000;

/** How far apart two designs may be on a figure and count as alike. */
export const stepWords = (percent: number, name: string) =>
  percent < 100
    ? `${name} within ${percent.toFixed(0)} %`
    : `${name} up to ${(1 + percent / 100).toFixed(1)} times as high`;
