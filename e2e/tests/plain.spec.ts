// Plain functions of the interface: what people type, merging of two windows, undo. No browser is needed.
import { walk } from '../../web/src/charts/walk';
import { expect, test } from '@playwright/test';
import {
  convert,
  field,
  figures,
  inputText,
  nearestGauge,
  parse,
  rangeText,
  showText,
  shownUnit,
} from '../../web/src/units/units';
import { refusalOf } from '../../web/src/units/refusal';
import { Watched } from '../../web/src/workbench/watched';
import { readNumber } from '../../web/src/units/number';
import { said } from '../../web/src/units/sentence';
import type { Sentence } from '../../web/src/api/types';
import { edit, redo, start, undo } from '../../web/src/workbench/history';
import type { Draft } from '../../web/src/workbench/draft';
import { get, merge, put, same } from '../../web/src/workbench/merge';

const value = (group: string, key: string, text: string, system: 'metric' | 'imperial' | 'mix' = 'metric') => {
  const result = parse(text, field(group, key), system);
  return 'value' in result ? result.value : result.error;
};

test('arrow keys reach every point of a plane, also those that lie on one another, and come back the same way', () => {
  const points = [
    [3, 1],
    [1, 1],
    [2, 5],
    [2, 5],
    [2, 0],
    [9, -4],
  ].map(([x = 0, y = 0], i) => ({ key: `p${String(i)}`, x, y }));
  for (const [there, back] of [
    ['ArrowRight', 'ArrowLeft'],
    ['ArrowUp', 'ArrowDown'],
  ] as const) {
    // From the very first in that order.
    let at = points[0];
    for (let before = walk(points, at?.key ?? '', back); before; before = walk(points, before.key, back)) at = before;
    const seen = [at?.key];
    for (let next = walk(points, at?.key ?? '', there); next; next = walk(points, next.key, there)) {
      expect(walk(points, next.key, back)?.key).toBe(seen.at(-1));
      seen.push(next.key);
    }
    expect([...seen].sort()).toEqual(points.map((p) => p.key).sort());
  }
  expect(['Home', 'End', 'a'].map((key) => walk(points, 'p0', key)?.key)).toEqual(['p1', 'p5', undefined]);
  expect(walk([], 'p0', 'ArrowRight')).toBeNull();
});

test('typed quantities convert by exact factors', () => {
  // NIST Special Publication 811 (2008), appendix B.
  for (const [group, key, text, want] of [
    ['Donor', 'curb_mass_kg', '2200 lb', 997.903214],
    ['Tyre', 'rolling_radius_m', '12.5 in', 0.3175],
    ['Tyre', 'rolling_radius_m', '12.5"', 0.3175],
    ['Motor', 'continuous_power_w', '7.5 hp', 5592.749],
    ['Motor', 'continuous_power_w', '7,5 kW', 7500],
    ['MotorModel', 'peak_torque_nm', '100 lb-ft', 135.581795],
    ['MotorModel', 'peak_torque_nm', '100 ft lb', 135.581795],
    ['Measure', 'at_least_kmh', '55 mph', 88.51392],
    ['Site', 'temperature_c', '-4 °F', -20],
    ['Site', 'temperature_c', '300 K', 26.85],
    ['Wiring', 'resistance_ohm', '2.5 mohm', 0.0025],
    ['Measure', 'at_most_h', '90 min', 1.5],
    ['Regeneration', 'share', '60 %', 0.6],
    ['Donor', 'curb_mass_kg', '1 085', 1085],
  ] as const) {
    const got = value(group, key, text);
    expect(typeof got, `${text}: ${String(got)}`).toBe('number');
    expect(Math.abs((got as number) / want - 1), text).toBeLessThan(1e-6);
  }
});

test('a ratio is told by its teeth as well', () => {
  for (const [text, want] of [
    ['45/15', 3],
    [' 52 : 14 ', 52 / 14],
    ['37,5/10', 3.75],
    ['4.11', 4.11],
  ] as const)
    expect(value('Gear', 'ratio', text), text).toBeCloseTo(want, 9);
  // Nothing over nothing, and teeth where none are, are no numbers; what was given is said as it was given.
  for (const text of ['45/0', '0/0', '/15']) expect(value('Gear', 'ratio', text)).toContain(`"${text}" is no number`);
  for (const text of ['45/', '1/2/3']) expect(value('Gear', 'ratio', text)).toContain('teeth such as 45/15');
  expect(value('Gear', 'ratio', '4500/15')).toContain('4500/15 is out of range');
  expect(value('Donor', 'curb_mass_kg', '2000/2')).toContain('accepted');
});

test('a bare number means the unit shown beside the field', () => {
  expect(value('Donor', 'curb_mass_kg', '1000', 'imperial')).toBeCloseTo(453.59237, 9);
  expect(value('Measure', 'at_least_kmh', '60', 'mix')).toBeCloseTo(96.56064, 9);
  expect(value('Wiring', 'resistance_ohm', '6')).toBeCloseTo(0.006, 12);
  expect(value('Motor', 'continuous_power_w', '22')).toBeCloseTo(22_000, 9);
});

test('what is shown in a field comes back as the same value', () => {
  for (const system of ['metric', 'imperial', 'mix'] as const) {
    for (const [group, key, stored] of [
      ['Donor', 'curb_mass_kg', 1085],
      ['Donor', 'frontal_area_m2', 2.55],
      ['Donor', 'rolling_coefficient', 0.0125],
      ['Wiring', 'resistance_ohm', 0.006],
      ['Motor', 'continuous_power_w', 22_000],
      ['Site', 'temperature_c', -7.5],
    ] as const) {
      const of = field(group, key);
      const text = inputText(stored, of, system);
      // Told in another unit it is rounded to four figures; what is stored keeps them all.
      const fine = shownUnit(of.unit, system) === of.unit ? 1e-6 : 6e-4;
      const back = value(group, key, text, system);
      expect(Math.abs((back as number) - stored), `${text} in ${system}`).toBeLessThan(fine * Math.abs(stored));
    }
  }
});

test('nonsense is refused and says what is accepted', () => {
  expect(value('Donor', 'curb_mass_kg', 'heavy')).toBe('"heavy" is no number; 10 to 40 000 kg accepted');
  expect(value('Donor', 'curb_mass_kg', '5 kg')).toBe('5 kg is out of range; 10 to 40 000 kg accepted');
  expect(value('Donor', 'curb_mass_kg', '900 hp')).toContain('accepted are kg, g, t, lb, oz');
  expect(value('Pack', 'modules_in_series', '2.5')).toContain('2.5 is not whole');
  expect(value('Donor', 'adhesion', '0.8 kg')).toContain('a plain number is accepted');
  expect(rangeText(field('Donor', 'curb_mass_kg'), 'imperial')).toBe('22.05 to 88 184 lb');
});

test('figures keep three places and a true minus', () => {
  expect([figures(94.895), figures(0.0061234), figures(12_345.6, 5), figures(-3.14159), figures(0)]).toEqual([
    '94.9',
    '0.00612',
    '12 346',
    '−3.14',
    '0',
  ]);
  expect(showText(1000, 'kg', 'imperial', 4)).toBe('2 205 lb');
  expect(convert(1, 'kg', 'm')).toBe(1);
});

test('one comma before three figures is told apart by what is accepted, or asked about; it is never guessed', () => {
  const reads = (text: string) => readNumber(text);
  expect(reads('1234.5')).toEqual({ value: 1234.5 });
  expect(reads('1,234.5')).toEqual({ value: 1234.5 });
  expect(reads('1.234,5')).toEqual({ value: 1234.5 });
  expect(reads('1 234,5')).toEqual({ value: 1234.5 });
  expect(reads('1,234,567')).toEqual({ value: 1_234_567 });
  expect(reads('0,500')).toEqual({ value: 0.5 });
  expect(reads('−7,5')).toEqual({ value: -7.5 });
  expect(reads('9,500')).toEqual({ either: [9.5, 9500] });
  for (const nonsense of ['', ',', '1,2,3', '1.2.3', '1,23,456', '--3', '12x'])
    expect(reads(nonsense), nonsense).toBeNull();
  // A kerb mass of 1.2 kg is not accepted, so 1200 is meant; a price may be either.
  expect(value('Donor', 'curb_mass_kg', '1,200 kg')).toBe(1200);
  expect(value('Gear', 'ratio', '3,545')).toBeCloseTo(3.545, 9);
  expect(value('AddedItem', 'price', '9,500')).toBe('"9,500" can be 9.5 or 9500; write it without the comma');
});

test('a wire is told by its gauge, fuel the other way round, heights in feet', () => {
  // ASTM B258: 2/0 is 67.4 mm2, AWG 4 is 21.2 mm2.
  expect(value('Wiring', 'cable_section_mm2', '2/0')).toBeCloseTo(67.43, 1);
  expect(value('Wiring', 'cable_section_mm2', 'AWG 4')).toBeCloseTo(21.15, 1);
  expect(value('Wiring', 'cable_section_mm2', '35')).toBe(35);
  expect([nearestGauge(67.4), nearestGauge(35)]).toEqual(['AWG 2/0', 'about AWG 2']);
  // 235.215 l/100 km over miles a US gallon, 282.481 over miles an imperial one.
  expect(value('Evidence', 'fuel_l_per_100km', '28 mpg')).toBeCloseTo(235.2146 / 28, 4);
  expect(value('Evidence', 'fuel_l_per_100km', '28', 'imperial')).toBeCloseTo(235.2146 / 28, 4);
  expect(value('Evidence', 'fuel_l_per_100km', '28', 'mix')).toBeCloseTo(282.4809 / 28, 4);
  expect(value('Evidence', 'fuel_l_per_100km', '12 km/l')).toBeCloseTo(100 / 12, 9);
  expect(value('Site', 'altitude_m', '1000', 'imperial')).toBeCloseTo(304.8, 9);
  expect(value('TravelSegment', 'stops_per_km', '2', 'imperial')).toBeCloseTo(2 / 1.609344, 9);
  // What flows in wires stays in watts where a shaft is told in horsepower.
  expect(showText(3700, 'W', 'imperial', 3, 'electric_power')).toBe('3.7 kW');
  expect(showText(3700, 'W', 'imperial')).toBe('4.96 hp');
});

test('sentences of the core are said in the units shown, as fine as they were told', () => {
  const sentence: Sentence = [
    'Gross mass comes to ',
    { value: 1512.4, unit: 'kg', digits: 0 },
    ' for ',
    { value: 8400, unit: 'money', digits: 0 },
    ' at ',
    { value: 96.56, unit: 'km/h', digits: 0 },
    '.',
  ];
  expect(said(sentence, 'metric', 'EUR')).toBe('Gross mass comes to 1 512 kg for 8 400 EUR at 97 km/h.');
  expect(said(sentence, 'imperial', 'USD')).toBe('Gross mass comes to 3 334 lb for 8 400 USD at 60 mph.');
  expect(said([{ value: 3.7, unit: 'kW', digits: 1, dimension: 'electric_power' }], 'imperial', '')).toBe('3.7 kW');
  expect(said([{ value: 9000, unit: 'm', digits: 0, dimension: 'height' }], 'imperial', '')).toBe('29 528 ft');
});

test('two windows that changed different places both keep theirs', () => {
  const base = { donor: { mass: 1, area: 2, gears: [1, 2] }, name: 'a' };
  const mine = { donor: { mass: 10, area: 2, gears: [1, 2] }, name: 'a' };
  const theirs = {
    donor: { mass: 1, area: 20, gears: [1, 2, 3] },
    name: 'a',
    notes: 'new',
  };
  const { merged, clashes } = merge(base, mine, theirs);
  expect(clashes).toEqual([]);
  expect(merged).toEqual({
    donor: { mass: 10, area: 20, gears: [1, 2, 3] },
    name: 'a',
    notes: 'new',
  });
});

test('the same place changed twice is listed, with mine standing', () => {
  const { merged, clashes } = merge({ a: 1, list: [1] }, { a: 2, list: [1, 2] }, { a: 3, list: [0, 1] });
  expect(merged).toEqual({ a: 2, list: [1, 2] });
  expect(clashes.map((c) => [c.path, c.theirs])).toEqual([
    ['a', 3],
    ['list', [0, 1]],
  ]);
  // Removed here, changed there: nothing goes without a question.
  expect(merge({ a: 1 }, {}, { a: 2 }).clashes).toHaveLength(1);
  expect(merge({ a: 1 }, {}, { a: 1 }).merged).toEqual({});
});

test('places are put, read and removed without touching the rest', () => {
  const value = { a: { list: [{ x: 1 }, { x: 2 }] }, b: 3 };
  const changed = put(value, 'a.list.1.x', 9);
  expect(get(changed, 'a.list.1.x')).toBe(9);
  expect(changed.a.list[0]).toBe(value.a.list[0]);
  expect(get(value, 'a.list.1.x')).toBe(2);
  expect(put(value, 'a.list.0', undefined).a.list).toEqual([{ x: 2 }]);
  expect(put(value, 'b', undefined)).toEqual({ a: value.a });
  expect(get(value, 'a.nothing.here')).toBeUndefined();
  expect(same({ x: 1, y: undefined }, { x: 1 })).toBe(true);
});

test('undo joins the keystrokes of one field and keeps those of another apart', () => {
  const draft = (name: string) => ({ name }) as Draft;
  let h = start(draft('a'));
  h = edit(h, draft('ab'), 'name', 1000);
  h = edit(h, draft('abc'), 'name', 1400);
  h = edit(h, draft('abcd'), 'notes', 1500);
  h = undo(h);
  expect(h.present.name).toBe('abc');
  h = undo(h);
  expect(h.present.name).toBe('a');
  expect(undo(h)).toBe(h);
  h = redo(redo(h));
  expect(h.present.name).toBe('abcd');
  h = edit(undo(h), draft('x'), 'name', 9000);
  expect(redo(h)).toBe(h);
});

test('a refusal names the field by its label, never by its place; what has no label by its key in words', () => {
  const of = (path: string, given: string, accepted: string) =>
    refusalOf({ path, given, accepted, message: `${path} is ${given}; ${accepted}` });
  expect(of('design.pack.modules_in_series', '0', 'a whole number is accepted')).toBe(
    'Modules in series is 0; a whole number is accepted',
  );
  expect(of('design.motor', 'missing', 'choose a motor')).toBe('Motor is missing; choose a motor');
  expect(of('amps_a', 'nothing', 'it is needed')).toBe('Amps is nothing; it is needed');
  expect(of('points[2].torque_nm', '70', 'it cannot rise')).toBe('Row 3: Torque is 70; it cannot rise');
  expect(of('brief.trips[2].path.recorded', 'x', 'a name is accepted')).toBe(
    'Row 3: Recorded is x; a name is accepted',
  );
});

test('who watches a value is told of every change until they leave', () => {
  const value = new Watched(1);
  const told: number[] = [];
  const leave = value.subscribe(() => told.push(value.get()));
  value.change((v) => v + 1);
  value.change((v) => v * 5);
  leave();
  value.change(() => 0);
  expect(told).toEqual([2, 10]);
  expect(value.get()).toBe(0);
});
