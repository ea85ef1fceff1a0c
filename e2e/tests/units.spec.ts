// Laws of reading and showing quantities, on whatever input. No browser is needed.
import assert from 'node:assert/strict';
import { expect, test } from '@playwright/test';
import fc from 'fast-check';
import catalogue from '../../web/src/units/catalogue.json' with { type: 'json' };
import { convert, field, inputText, keysOf, parse, rangeText, shownUnit } from '../../web/src/units/units';

test('every number of the catalogue takes its bounds and refuses what lies beyond, in every system of units', () => {
  for (const group of Object.keys(catalogue.fields)) {
    for (const name of keysOf(group)) {
      const of = field(group, name);
      for (const system of ['metric', 'imperial', 'mix'] as const) {
        const unit = shownUnit(of.unit, system, of.dimension);
        // Told in another unit a value is rounded to four figures.
        const fine = unit === of.unit ? 2e-6 : 1.1e-3;
        for (const bound of [of.min, of.max]) {
          // Seven figures of a bound may lie a hair outside it; that much inside it must not.
          const inside =
            bound + (bound === of.min ? 1 : -1) * 1e-6 * Math.max(Math.abs(bound), of.max - of.min > 1 ? 1e-3 : 1e-9);
          const typed = of.whole ? bound : inside;
          const read = parse(inputText(typed, of, system), of, system);
          assert.ok('value' in read, `${group}.${name} ${String(typed)} in ${unit}: ${JSON.stringify(read)}`);
          assert.ok(
            Math.abs(read.value - typed) <= fine * Math.max(1, Math.abs(typed)),
            `${group}.${name}: ${String(read.value)}`,
          );
        }
        const over = of.max + Math.max(1, 0.01 * Math.abs(of.max));
        const refused = parse(inputText(over, of, system), of, system);
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
      const dimension = of.dimension;
      if (dimension !== '' && !of.whole && !byDimension.has(dimension))
        byDimension.set(dimension, { ...of, min: -1e12, max: 1e12 });
    }
  }
  expect(byDimension.size).toBeGreaterThan(18);
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
    { numRuns: 5000, seed: 20261126 },
  );
});
