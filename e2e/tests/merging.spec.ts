// Laws of merging and of places in records, on whatever input. No browser is needed.
import assert from 'node:assert/strict';
import { expect, test } from '@playwright/test';
import fc from 'fast-check';
import type { Draft } from '../../web/src/workbench/draft';
import { redo, settle, start, undo } from '../../web/src/workbench/history';
import { confirmed, get, type Json, merge, put, same } from '../../web/src/workbench/merge';
import { own } from '../../web/src/workbench/ownership';

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

test('a record that nothing is left of and one that is gone are the same, and nobody is asked', () => {
  const laid = { donor: { name: 'Pipit', underlays: { side: { photograph: 'p' }, plan: { photograph: 'q' } } } };
  const emptied = { donor: { name: 'Pipit', underlays: {} } };
  const gone = { donor: { name: 'Pipit' } };
  for (const [mine, theirs] of [
    [emptied, gone],
    [gone, emptied],
    [{ donor: { name: 'Pipit', underlays: { side: {}, plan: {} } } }, gone],
  ] as [Json, Json][]) {
    assert.deepEqual(merge(laid, mine, theirs), { merged: gone, clashes: [] });
  }
  // What the other side wrote into it meanwhile still stands.
  const turned = { donor: { name: 'Pipit', underlays: { plan: { photograph: 'r' } } } };
  assert.deepEqual(
    merge(laid, emptied, turned).clashes.map((c) => c.path),
    ['donor.underlays.plan'],
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

/** A list of goals by their ids, each with one figure. */
const goals = fc
  .uniqueArray(fc.tuple(fc.constantFrom('range', 'top', 'hill', 'cost'), fc.nat(2)), { selector: ([id]) => id })
  .map((items) => items.map(([id, target]) => ({ id, target })));
type Goals = { id: string; target: number }[];

test('lists are merged item by item where items have ids: nothing that one side changed or added is lost', () => {
  fc.assert(
    fc.property(goals, goals, goals, (base, mine, theirs) => {
      const { merged, clashes } = merge({ goals: base }, { goals: mine }, { goals: theirs });
      const result = (merged as { goals: Goals }).goals;
      const of = (list: Goals, id: string) => list.find((g) => g.id === id)?.target;
      assert.equal(new Set(result.map((g) => g.id)).size, result.length, 'each once');
      for (const id of ['range', 'top', 'hill', 'cost']) {
        const [b, m, t, r] = [base, mine, theirs, result].map((list) => of(list, id));
        if (m === t) assert.equal(r, m, id);
        else if (b === m) assert.equal(r, t ?? undefined, `${id} as they left it`);
        else if (b === t) assert.equal(r, m ?? undefined, `${id} as I left it`);
        else if (m === undefined) assert.equal(r, t, `${id} was changed there since`);
        else assert.equal(r, m, `${id} stands as mine`);
        const listed = clashes.some((c) => c.place.includes(`#${id}`));
        assert.equal(listed, b !== m && b !== t && m !== t && m !== undefined && t !== undefined, id);
      }
      for (const c of clashes) {
        const settled = put(merged, c.place, c.theirs);
        assert.ok(same(get(settled, c.place), c.theirs) && same(get(put(settled, c.place, c.mine), c.place), c.mine));
      }
    }),
    runs,
  );
});

test('lists whose items have names are merged item by item too, also where an item was renamed or two are called the same', () => {
  interface Bay {
    name: string;
    kg: number;
  }
  const name = fc.constantFrom('tank', 'boot', 'tunnel', 'boot (2)');
  const bays = fc.array(fc.record({ name, kg: fc.nat(2) }), { maxLength: 5 });
  const edits = fc.array(
    fc.record({ at: fc.nat(4), to: fc.record({ name: fc.string({ maxLength: 2 }), kg: fc.nat(9) }) }),
    {
      maxLength: 3,
    },
  );
  fc.assert(
    fc.property(bays, edits, edits, fc.boolean(), (base, here, there, adds) => {
      // Each window edits items of its own: one the first and every other, one those between.
      const edited = (ops: typeof here, odd: number, more: Bay[]) => [
        ...base.map((bay, i) => (i % 2 === odd ? (ops.findLast((o) => o.at === i)?.to ?? bay) : bay)),
        ...more,
      ];
      const [mine, theirs] = [edited(here, 0, []), edited(there, 1, adds ? [{ name: 'new', kg: 1 }] : [])];
      const both = base.map((_, i) => (i % 2 === 0 ? mine[i] : theirs[i]));
      const wanted = adds ? [...both, { name: 'new', kg: 1 }] : both;
      const names = (list: Bay[]) => new Set(list.map((b) => b.name)).size === list.length;
      // Where names are not told apart on every side, one may be asked, but nothing is taken silently.
      const apart = [base, mine, theirs].every(names);
      const { merged, clashes } = merge(
        ...([base, mine, theirs].map((bays) => ({ bays })) as unknown as [Json, Json, Json]),
      );
      const result = (merged as unknown as { bays: Bay[] }).bays;
      if (apart && !adds) assert.deepEqual([result, clashes], [wanted, []]);
      else if (clashes.length === 0) {
        const held = (b: Bay | undefined) => result.some((r) => same(r, b));
        const changed = [...mine, ...theirs].filter((b) => !base.some((old) => same(old, b)));
        for (const bay of changed) assert.ok(held(bay), JSON.stringify([base, mine, theirs, result]));
      }
      for (const c of clashes) {
        assert.ok(same(get(merged, c.place), c.mine), c.path);
        assert.ok(same(get(put(merged, c.place, c.theirs), c.place), c.theirs), c.path);
      }
    }),
    runs,
  );
});

test('two windows at one list of names: what each measured stays, and one figure typed twice is asked about alone', () => {
  const donor = (...bays: Record<string, Json>[]) => ({ donor: { bays } });
  const base = donor({ name: 'tank', rated_kg: 50 }, { name: 'boot' });
  const mine = donor({ name: 'where the tank was', rated_kg: 50 }, { name: 'boot', rated_kg: 80 });
  const theirs = donor({ name: 'tank', rated_kg: 60 }, { name: 'boot', rated_kg: 90 }, { name: 'tunnel' });
  const { merged, clashes } = merge(base, mine, theirs);
  expect(merged).toEqual(
    donor({ name: 'where the tank was', rated_kg: 60 }, { name: 'boot', rated_kg: 80 }, { name: 'tunnel' }),
  );
  expect(clashes.map((c) => [c.place, c.mine, c.theirs])).toEqual([[['donor', 'bays', '#boot', 'rated_kg'], 80, 90]]);
  // A clash within what was renamed is settled where it now stands; what holds a block is told by what it holds.
  const renamed = merge(base, donor({ name: 'tunnel', rated_kg: 55 }, { name: 'boot' }), theirs);
  expect(renamed.clashes.map((c) => c.place)).toEqual([['donor', 'bays', '#tunnel', 'rated_kg']]);
  const mounts = (bolts: number, more: number): Json => [
    { of: 'motor', bolts },
    { of: 'added', name: 'heater', bolts: more },
  ];
  expect(merge(mounts(4, 2), mounts(6, 2), mounts(4, 3))).toEqual({ merged: mounts(6, 3), clashes: [] });
});

test('a clash is settled at its own place, also under a key with dots, and undo brings the value that was not chosen', () => {
  const draft = (percent: number, target: number) =>
    ({
      donor: { sources: { 'model.peak_power_w': { spread_percent: percent } } },
      brief: {
        goals: [
          { id: 'range', target },
          { id: 'top', target: 1 },
        ],
      },
      designs: {},
    }) as unknown as Draft;
  const json = (d: Draft) => d as unknown as Json;
  const { merged, clashes } = merge(json(draft(5, 50)), json(draft(6, 60)), json(draft(7, 70)));
  expect(clashes.map((c) => c.place)).toEqual([
    ['donor', 'sources', 'model.peak_power_w', 'spread_percent'],
    ['brief', 'goals', '#range', 'target'],
  ]);
  const h = settle(start(merged as unknown as Draft), clashes, new Set([clashes[1]?.path ?? '']));
  expect(h.present).toEqual(draft(6, 70));
  expect(undo(h).present).toEqual(draft(7, 60));
  expect(redo(undo(h)).present).toEqual(draft(6, 70));
});

test('what is typed over is one’s own: no mark of the handbook, a data sheet or a seller stays on it', () => {
  const draft = {
    donor: { curb_mass_kg: 950, sources: { curb_mass_kg: { from: 'handbook' }, tyre: { from: 'handbook' } } },
    brief: { goals: [{ id: 'range', assumed: true, measure: { at_least_km: 50 } }] },
    designs: {
      x: {
        proposed: true,
        low_voltage: { load_w: 200 },
        sources: { 'low_voltage.load_w': { from: 'handbook' } },
        motor: {
          model: { peak_power_w: 1 },
          sources: { 'model.peak_power_w': { from: 'seller', spread_percent: 60 }, mass_kg: { from: 'measured' } },
        },
      },
    },
  } as unknown as Draft;
  const mark = (path: string, place: string[]) =>
    get(own(put(draft, path, 1), path), [...place.slice(0, -1), 'sources', place.at(-1) ?? '']);
  expect(mark('donor.curb_mass_kg', ['donor', 'curb_mass_kg'])).toEqual({ from: 'guess' });
  expect(mark('donor.tyre.code', ['donor', 'tyre'])).toEqual({ from: 'guess' });
  expect(mark('donor.tyre.code', ['donor', 'curb_mass_kg'])).toEqual({ from: 'handbook' });
  const motor = ['designs', 'x', 'motor'];
  expect(mark('designs.x.motor.model.peak_power_w', [...motor, 'model.peak_power_w'])).toEqual({ from: 'guess' });
  expect(mark('designs.x.motor.mass_kg', [...motor, 'mass_kg'])).toEqual({ from: 'measured' });
  expect(mark('designs.x.low_voltage.load_w', ['designs', 'x', 'low_voltage.load_w'])).toEqual({ from: 'guess' });
  const proposed = (path: string) => get(own(put(draft, path, 1), path), 'designs.x.proposed');
  expect([proposed('designs.x.motor'), proposed('designs.x.pack.strings_in_parallel')]).toEqual([undefined, undefined]);
  expect([proposed('designs.x.notes'), proposed('donor.curb_mass_kg')]).toEqual([true, true]);
  const goal = 'brief.goals.0';
  expect(
    get(own(put(draft, `${goal}.measure.at_least_km`, 60), `${goal}.measure.at_least_km`), `${goal}.assumed`),
  ).toBe(undefined);
  // Saying where a value comes from is no typing over it.
  const said = put(draft, 'donor.sources', { curb_mass_kg: { from: 'datasheet' } });
  expect(own(said, 'donor.sources')).toBe(said);
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

test('candidates of two windows are joined by their ids; a mark stays with the vehicle it is of', () => {
  const vehicle = (id: string, name: string, more: object = {}) => ({
    id,
    donor: { name, curb_mass_kg: 900, ...more },
  });
  const base = { shortlist: { candidates: [vehicle('p', 'Plover'), vehicle('k', 'Knot')] } };
  const mine = { shortlist: { candidates: [vehicle('p', 'Plover', { curb_mass_kg: 950 }), vehicle('d', 'Dotterel')] } };
  const theirs = {
    shortlist: { candidates: [vehicle('p', 'Ringed plover'), vehicle('k', 'Knot'), vehicle('s', 'Stint')] },
  };
  const { merged, clashes } = merge(base as unknown as Json, mine as unknown as Json, theirs as unknown as Json);
  expect(clashes).toEqual([]);
  // Changed on both sides, removed here, added on either.
  expect(merged).toEqual({
    shortlist: {
      candidates: [
        vehicle('p', 'Ringed plover', { curb_mass_kg: 950 }),
        vehicle('d', 'Dotterel'),
        vehicle('s', 'Stint'),
      ],
    },
  });
  // The one that was removed here and changed there stays as changed.
  const changed = { shortlist: { candidates: [vehicle('p', 'Plover'), vehicle('k', 'Red knot')] } };
  const kept = merge(base as unknown as Json, mine as unknown as Json, changed as unknown as Json).merged;
  expect((get(kept, 'shortlist.candidates') as { id: string }[]).map((c) => c.id)).toEqual(['p', 'd', 'k']);
  // The same figure changed twice asks.
  const other = { shortlist: { candidates: [vehicle('p', 'Plover', { curb_mass_kg: 970 }), vehicle('k', 'Knot')] } };
  expect(
    merge(base as unknown as Json, mine as unknown as Json, other as unknown as Json).clashes.map((c) => c.place),
  ).toEqual([['shortlist', 'candidates', '#p', 'donor', 'curb_mass_kg']]);
  // Typed over, a figure of a candidate is the person's own, like one of the donor.
  const draft = {
    donor: { sources: { curb_mass_kg: { from: 'handbook' } } },
    shortlist: { candidates: [{ id: 'p', donor: { sources: { curb_mass_kg: { from: 'handbook' } } } }] },
    designs: {},
  } as unknown as Draft;
  const at = 'shortlist.candidates.0.donor.curb_mass_kg';
  const typed = own(put(draft, at, 930), at);
  expect(get(typed, 'shortlist.candidates.0.donor.sources')).toEqual({ curb_mass_kg: { from: 'guess' } });
  expect(get(typed, 'donor.sources')).toEqual({ curb_mass_kg: { from: 'handbook' } });
});
