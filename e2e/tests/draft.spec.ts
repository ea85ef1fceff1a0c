// What is drafted: undo and redo on whatever edits, and the document that figures are computed of. No browser is needed.
import assert from 'node:assert/strict';
import { expect, test } from '@playwright/test';
import fc from 'fast-check';
import type { Conversion } from '../../web/src/api/types';
import type { Draft } from '../../web/src/workbench/draft';
import { documentOf, savedOf, variantsOf, wholeDocumentOf } from '../../web/src/workbench/draft';
import { edit, rebase, redo, start, undo } from '../../web/src/workbench/history';
import { put } from '../../web/src/workbench/merge';

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
      const back = undo(h);
      const moved = rebase(back, back.present, { ...back.present, units: 'mix', designs: { x: {} } });
      const steps_ = (x: typeof h) => [...x.past, x.present, ...x.future];
      assert.ok(
        steps_(moved).every((d) => d.units === 'mix' && 'x' in d.designs),
        'what came in is in every step',
      );
      assert.deepEqual(
        steps_(moved).map((d) => d.name),
        steps_(back).map((d) => d.name),
        'and each keeps what was typed here',
      );
    }),
    { numRuns: 300, seed: 20261126 },
  );
});

test('an edit made while the stored rows were read stays, with what came in beside it, and undo takes back just that', () => {
  fc.assert(
    fc.property(
      fc.string({ minLength: 1, maxLength: 4 }),
      fc.constantFrom('imperial', 'mix'),
      fc.boolean(),
      (typed, units, news) => {
        const mine = { name: 'as it was', units: 'metric', designs: {} } as unknown as Draft;
        // What the saver merged does not know the edit yet: it was made a moment ago.
        const merged = news ? ({ ...mine, units } as unknown as Draft) : mine;
        const edited = edit(start(mine), { ...mine, name: typed } as Draft, 'name', 1);
        const h = rebase(edited, mine, merged);
        assert.equal(h.present.name, typed);
        assert.equal(h.present.units, merged.units);
        const back = undo(h);
        assert.deepEqual([back.present.name, back.present.units], ['as it was', merged.units]);
        assert.equal(redo(back).present.name, typed);
      },
    ),
    { numRuns: 200, seed: 20261126 },
  );
});

test('a document holds one variant of the draft and nothing that no figure depends on', () => {
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
    design: { motor_count: 2 },
  });
  // Sprints are told as people of these units compare them.
  expect(document.brief).toEqual({ driver_kg: 80, performance: { sprints: 'mph' } });
  expect(saved.draft.brief).toHaveProperty('search');
  expect(wholeDocumentOf(saved.draft, { id: 'x', label: 'A' })).toMatchObject({
    name: 'Unnamed A',
    brief: saved.draft.brief,
  });
  // Notes, names and marks compute nothing anew.
  const noted = put(put(put(saved.draft, 'name', 'x'), 'donor.notes', 'rust'), 'designs.x.proposed', true);
  expect(documentOf(noted, { id: 'x', label: 'A' })).toEqual(document);
  expect(documentOf(put(saved.draft, 'donor.curb_mass_kg', 701), { id: 'x', label: 'A' })).not.toEqual(document);
  expect(documentOf(saved.draft, { id: 'gone', label: 'Z' }).design).toEqual({});
});
