// Plain functions of the electrics: what taking a part changes, which figures are still asked for, how ratings are told, names of files. No
// browser is needed.
import { expect, test } from '@playwright/test';
import type { Also, Component, Design, Part } from '../../web/src/api/types';
import { fileName } from '../../web/src/common/download';
import { isOfChain } from '../../web/src/parts/records';
import { componentWord, ratingsOf, summary } from '../../web/src/parts/summary';
import { wiringKeys } from '../../web/src/parts/wiring';
import { taken } from '../../web/src/stages/electrics/taken';
import { componentKinds, field, throttleSignals } from '../../web/src/units/units';
import { get, type Json, merge, put } from '../../web/src/workbench/merge';

const fuse: Component = {
  kind: 'fuse',
  name: 'Flint',
  max_voltage_v: 150,
  current_a: 250,
  break_a: 10000,
  mass_kg: 0.12,
  price: 20,
};
const also: Also[] = [{ path: 'wiring.fuse_a' }, { path: 'wiring.cable_length_m', value: 4 }];

/** A design with some places changed, as the workbench changes them. */
const edited = (design: Json, places: [string, unknown][]): Json =>
  places.reduce<Json>(
    (d, [path, value]) => put(d as Record<string, unknown>, path, value) as Json,
    structuredClone(design),
  );

test('a part that is taken brings its figures, and takes away what would contradict it', () => {
  const design = { designs: { a: { wiring: { fuse_a: 200, cable_current_a: 90 } } } };
  const after = edited(design, taken('designs.a', 'pack_fuse', fuse, also));
  expect(get(after as never, 'designs.a.electrics.fitted.pack_fuse')).toEqual(fuse);
  expect(get(after as never, 'designs.a.wiring')).toEqual({ cable_length_m: 4, cable_current_a: 90 });
  // Taken out again it leaves the rest alone.
  const out = edited(after, taken('designs.a', 'pack_fuse', undefined, []));
  expect(get(out as never, 'designs.a.electrics.fitted.pack_fuse')).toBeUndefined();
  expect(get(out as never, 'designs.a.wiring')).toEqual({ cable_length_m: 4, cable_current_a: 90 });
});

test('a fuse taken in one window and its figure typed in another are held against each other, never mixed in silence', () => {
  const base = { wiring: { fuse_a: 200 } };
  const here = edited(base, [
    ['electrics.fitted.pack_fuse', fuse],
    ['wiring.fuse_a', undefined],
  ]);
  const there = { wiring: { fuse_a: 250 } };
  const { clashes } = merge(base, here, there);
  expect(clashes.map((c) => c.path)).toEqual(['wiring.fuse_a']);
  // Different places do not meet.
  const disconnect = {
    electrics: { fitted: { disconnect: { ...fuse, kind: 'disconnect' } } },
    wiring: { fuse_a: 200 },
  };
  const both = merge(base, here, disconnect as unknown as Json);
  expect(both.clashes).toEqual([]);
  expect(Object.keys(get(both.merged as never, 'electrics.fitted') as object).sort()).toEqual([
    'disconnect',
    'pack_fuse',
  ]);
});

test('what a record says is not asked again', () => {
  const design = (fitted: object) => ({ electrics: { fitted } }) as unknown as Design;
  expect(wiringKeys(design({}))).toEqual([
    'fuse_a',
    'fuse_voltage_v',
    'cable_section_mm2',
    'cable_length_m',
    'cable_current_a',
  ]);
  expect(wiringKeys(design({ pack_fuse: fuse }))).toEqual(['cable_section_mm2', 'cable_length_m', 'cable_current_a']);
  expect(wiringKeys(design({ traction_cable: { ...fuse, kind: 'cable' } }))).not.toContain('cable_section_mm2');
  for (const key of wiringKeys(design({}))) expect(field('Wiring', key).label).not.toBe('');
});

test('ratings are told by the labels of their kind, in the units shown', () => {
  expect(ratingsOf(fuse, 'metric')).toBe('bears up to 150 V · carries for hours 250 A · breaks 10 000 A · 0.12 kg');
  expect(ratingsOf({ kind: 'throttle', name: 't', signal: 'hall', tracks: 2, mass_kg: 0.5 }, 'metric')).toBe(
    '0.8 to 4.2 V, hall · tracks 2 · 0.5 kg',
  );
  // Pounds where pounds are shown; amperes are the same everywhere.
  expect(ratingsOf(fuse, 'imperial')).toMatch(/250 A.*lb$/);
  const part: Part = { part: 'component', ...fuse };
  expect(summary(part, 'metric')).toBe(`fuse · ${ratingsOf(fuse, 'metric')}`);
  expect(isOfChain(part)).toBe(false);
});

test('every kind has a word, numbers the catalogue knows, and needs among them', () => {
  expect(componentKinds.length).toBe(11);
  for (const { kind, word, numbers, needs } of componentKinds) {
    expect(componentWord(kind)).toBe(word);
    expect(numbers.length).toBeGreaterThan(0);
    for (const key of numbers) expect(field('Component', key).key).toBe(key);
    expect(needs.every((key) => numbers.includes(key))).toBe(true);
  }
  expect(throttleSignals.map(([id]) => id)).toEqual(['volts', 'ohms', 'hall']);
});

test('a file is named by letters and figures alone', () => {
  expect(fileName('Wren, orchard hauler A')).toBe('Wren-orchard-hauler-A');
  expect(fileName('../../etc/passwd\u0000 B')).toBe('etc-passwd-B');
  expect(fileName('Überlandwagen 3,5 t')).toBe('Überlandwagen-3-5-t');
});
