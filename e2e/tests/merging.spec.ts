// Laws of merging, of places in records, of undo, and of reading and showing quantities, on whatever input. No browser is needed.
import assert from 'node:assert/strict';
import { expect, test } from '@playwright/test';
import fc from 'fast-check';
import type { Draft } from '../../web/src/workbench/draft';
import { documentOf, savedOf, variantsOf } from '../../web/src/workbench/draft';
import { edit, rebase, redo, start, undo } from '../../web/src/workbench/history';
import { confirmed, get, type Json, merge, put, same } from '../../web/src/workbench/merge';
import catalogue from '../../web/src/units/catalogue.json' with { type: 'json' };
import { convert, field, inputText, keysOf, parse, rangeText, shownUnit } from '../../web/src/units/units';
import type { Conversion } from '../../web/src/api/types';

const runs = { numRuns: 1000, seed: 20261126 };

/** Records as drafts have them: keys from a few, so that two of them often meet. */
const key = fc.constantFrom('a', 'b', 'c', 'd');
const leaf = fc.oneof(
  fc.constant(null),
  fc.boolean(),
  fc.integer({ min: 0, max: 3 }),
  fc.array(fc.nat(2), { maxLength: 2 }),
);
const record = fc.letrec<{ tree: Json; node: Json }>((tie) => ({
  tree: fc.oneof({ depthSize: 'small' }, leaf, tie('node')),
  node: fc.dictionary(key, tie('tree'), { maxKeys: 4, noNullPrototype: true }),
})).node;

/** Every place of a record whose value is no record. */
const places = (value: Json, at = ''): string[] =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? Object.entries(value).flatMap(([k, v]) => places(v, at === '' ? k : `${at}.${k}`))
    : [at];

test('what one side left alone is taken from the other', () => {
  fc.assert(
    fc.property(record, record, (base, other) => {
      assert.deepEqual(merge(base, base, other), { merged: other, clashes: [] });
      assert.deepEqual(merge(base, other, base), { merged: other, clashes: [] });
      assert.deepEqual(merge(base, other, other), { merged: other, clashes: [] });
    }),
    runs,
  );
});

test('every place holds what one of the two wrote there, and is listed where both wrote', () => {
  fc.assert(
    fc.property(record, record, record, (base, mine, theirs) => {
      const { merged, clashes } = merge(base, mine, theirs);
      const back = merge(base, theirs, mine);
      assert.deepEqual(
        clashes.map((c) => c.path).sort(),
        back.clashes.map((c) => c.path).sort(),
        'the same places clash from either side',
      );
      for (const { path, mine: own, theirs: other } of clashes) {
        assert.ok(!same(own, other), path);
        if (path !== '') assert.ok(same(get(merged, path), own), `mine stands at ${path}`);
      }
      if (clashes.length === 0) assert.ok(same(merged, back.merged), 'without a clash the order does not matter');
      const lists = (v: Json) => new Set(places(v).map((p) => `${p}=${JSON.stringify(p === '' ? v : get(v, p))}`));
      const known = new Set([...lists(mine), ...lists(theirs)]);
      for (const place of lists(merged)) {
        // An empty record is what is left where both removed different keys.
        assert.ok(known.has(place) || place.endsWith('={}') || place.startsWith('='), place);
      }
    }),
    runs,
  );
});

test('after a lost answer the base holds just what was stored', () => {
  fc.assert(
    fc.property(record, record, (base, sent) => {
      assert.ok(same(confirmed(base, sent, sent), sent), 'all of it was stored');
      assert.ok(same(merge(confirmed(base, sent, sent), sent, sent).merged, sent));
      const { clashes } = merge(confirmed(base, sent, base), sent, base);
      assert.deepEqual(clashes, [], 'none of it was stored: it is still mine to write');
    }),
    runs,
  );
});

test('a place that was put is read again and no other has moved', () => {
  fc.assert(
    fc.property(record, fc.array(key, { minLength: 1, maxLength: 3 }), fc.integer(), (value, keys, next) => {
      const path = keys.join('.');
      const blocked = keys.slice(0, -1).some((_, i) => {
        const at = get(value, keys.slice(0, i + 1).join('.'));
        return at !== undefined && (typeof at !== 'object' || at === null || Array.isArray(at));
      });
      fc.pre(!blocked);
      const before = structuredClone(value);
      const changed = put(value, path, next);
      assert.deepEqual(value, before, 'what was there is not touched');
      assert.equal(get(changed, path), next);
      for (const place of places(value)) {
        if (place === '' || place === path || place.startsWith(`${path}.`)) continue;
        assert.ok(same(get(changed, place), get(value, place)), place);
      }
      assert.equal(get(put(changed, path, undefined), path), undefined);
    }),
    runs,
  );
});

test('undo leads back through every step and redo forward again', () => {
  const drafts = fc.array(fc.tuple(fc.constantFrom('name', 'notes'), fc.nat(5000)), { maxLength: 30 });
  fc.assert(
    fc.property(drafts, (edits) => {
      let now = 0;
      let h = start({ name: 'start' } as Draft);
      for (const [i, [path, pause]] of edits.entries()) {
        now += pause;
        h = edit(h, { name: String(i), notes: path } as Draft, path, now);
      }
      const end = h.present;
      const steps = h.past.length;
      for (let i = 0; i < steps; i += 1) h = undo(h);
      assert.equal(h.present.name, 'start');
      assert.equal(undo(h), h);
      for (let i = 0; i < steps; i += 1) h = redo(h);
      assert.equal(h.present, end);
      const moved = rebase(undo(h), (d) => ({ ...d, notes: 'theirs' }));
      assert.ok([...moved.past, moved.present, ...moved.future].every((d) => d.notes === 'theirs'));
    }),
    { ...runs, numRuns: 300 },
  );
});

test('every number of the catalogue takes its bounds and refuses what lies beyond, in every system of units', () => {
  for (const group of Object.keys(catalogue.fields)) {
    for (const name of keysOf(group)) {
      const of = field(group, name);
      for (const system of ['metric', 'imperial', 'mix'] as const) {
        const unit = shownUnit(of.unit, system);
        for (const bound of [of.min, of.max]) {
          // Seven figures of a bound may lie a hair outside it; that much inside it must not.
          const inside =
            bound + (bound === of.min ? 1 : -1) * 1e-6 * Math.max(Math.abs(bound), of.max - of.min > 1 ? 1e-3 : 1e-9);
          const typed = of.whole ? bound : inside;
          const read = parse(inputText(typed, of.unit, system), of, system);
          assert.ok('value' in read, `${group}.${name} ${String(typed)} in ${unit}: ${JSON.stringify(read)}`);
          assert.ok(
            Math.abs(read.value - typed) <= 2e-6 * Math.max(1, Math.abs(typed)),
            `${group}.${name}: ${String(read.value)}`,
          );
        }
        const over = of.max + Math.max(1, 0.01 * Math.abs(of.max));
        const refused = parse(inputText(over, of.unit, system), of, system);
        assert.ok(
          'error' in refused && refused.error.includes(rangeText(of, system)),
          `${group}.${name} took ${String(over)}`,
        );
      }
    }
  }
});

test('every unit and every name of it is read, and leads back', () => {
  const byDimension = new Map<string, ReturnType<typeof field>>();
  for (const group of Object.keys(catalogue.fields)) {
    for (const name of keysOf(group)) {
      const of = field(group, name);
      const dimension = catalogue.units.find((u) => u.symbol === of.unit)?.dimension;
      if (dimension !== undefined && !of.whole && !byDimension.has(dimension))
        byDimension.set(dimension, { ...of, min: -1e12, max: 1e12 });
    }
  }
  expect(byDimension.size).toBeGreaterThan(12);
  for (const [dimension, of] of byDimension) {
    for (const unit of catalogue.units.filter((u) => u.dimension === dimension)) {
      for (const word of [unit.symbol, ...unit.aliases]) {
        const read = parse(`12.5 ${word}`, of, 'metric');
        assert.ok('value' in read, `${word}: ${JSON.stringify(read)}`);
        const back = convert(read.value, of.unit, unit.symbol);
        assert.ok(Math.abs(back - 12.5) < 1e-9 * 12.5 + 1e-9, `${word} of ${dimension}: ${String(back)}`);
      }
    }
  }
});

test('nothing typed breaks the reading of a number', () => {
  const of = field('Donor', 'curb_mass_kg');
  fc.assert(
    fc.property(fc.oneof(fc.string(), fc.string({ unit: 'grapheme' }), fc.double().map(String)), (text) => {
      const read = parse(text, of, 'metric');
      if ('value' in read) assert.ok(read.value >= of.min && read.value <= of.max);
      else assert.ok(read.error.includes('accepted'), read.error);
    }),
    { ...runs, numRuns: 5000 },
  );
});

test('a document holds one variant of the draft and none of the search', () => {
  const conversion = {
    id: 'c',
    version: 4,
    name: '  ',
    notes: '',
    units: 'mix',
    brief: { driver_kg: 80, search: { budget: 5000 } },
    donor: { curb_mass_kg: 700 },
    designs: [
      { id: 'x', label: 'A', version: 2, design: { motor_count: 2 } },
      { id: 'y', label: 'B', version: 9, design: {} },
    ],
  } as unknown as Conversion;
  const saved = savedOf(conversion);
  expect([saved.version, saved.versions]).toEqual([4, { x: 2, y: 9 }]);
  expect(variantsOf(conversion)).toEqual([
    { id: 'x', label: 'A' },
    { id: 'y', label: 'B' },
  ]);
  const document = documentOf(saved.draft, { id: 'x', label: 'A' });
  expect(document).toMatchObject({
    format: 'joulethesis-design',
    version: 1,
    name: 'Unnamed A',
    design: { motor_count: 2 },
  });
  expect(document.brief).toEqual({ driver_kg: 80 });
  expect(saved.draft.brief).toHaveProperty('search');
  expect(documentOf(saved.draft, { id: 'gone', label: 'Z' }).design).toEqual({});
});
