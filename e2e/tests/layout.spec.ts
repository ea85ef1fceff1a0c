import fc from 'fast-check';
import type { BlockView, LayoutSheet } from '../../web/src/api/types.js';
import { during, goesAlong, laden, nudge, stated, summed, written } from '../../web/src/stages/layout/account.js';
import { aligned, NEAR_M, placesBeside, snapped } from '../../web/src/stages/layout/snap.js';
import { field } from '../../web/src/units/units.js';
import { outlines } from '../../web/src/stages/layout/outlines.js';
import { expect, saved, test } from '../service.js';

const kg = (text: string | null) => Number((text ?? '').replace(/ kg.*/, '').replace(/\s/g, ''));

test('a block is dragged, the axles tell at once, and nothing else moves; undo puts it back', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/layout/A`);
  const front = page.getByTestId('load-front_axle');
  const rear = page.getByTestId('load-rear_axle');
  await expect(front).toContainText('of 880 kg');
  const [f0, r0] = [kg(await front.textContent()), kg(await rear.textContent())];
  const pack = page.locator('[data-block="side:design.layout.pack"]');
  const box = await pack.boundingBox();
  if (!box) throw new Error('the pack is not drawn');
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 30, y, { steps: 3 });
  await page.mouse.move(x + 70, y - 20, { steps: 4 });
  // Still held: what leaves the front axle arrives at the rear one.
  const [f1, r1] = [kg(await front.textContent()), kg(await rear.textContent())];
  expect(f1).toBeLessThan(f0 - 10);
  expect(Math.abs(f0 - f1 - (r1 - r0))).toBeLessThanOrEqual(1);
  await expect(page.getByRole('button', { name: 'undo' })).toBeDisabled();
  // However far it is pulled, the scale stays and the block under the pointer.
  for (const [px, py] of [
    [x - 320, y],
    [x + 70, y - 20],
  ] as const) {
    await page.mouse.move(px, py, { steps: 5 });
    const middle = async () => {
      const held = await pack.boundingBox();
      return Math.round((held?.x ?? 0) + (held?.width ?? 0) / 2 - px);
    };
    await expect.poll(async () => Math.abs(await middle())).toBeLessThan(4);
    // To the stroke of what is chosen.
    expect(Math.abs(((await pack.boundingBox())?.width ?? 0) - box.width)).toBeLessThan(3);
  }
  await page.mouse.up();
  await saved(page);
  // The service says what the drawing said.
  const laden = page.getByTestId('state-laden').getByRole('cell');
  await expect.poll(async () => Math.abs(kg(await laden.nth(1).textContent()) - f1)).toBeLessThanOrEqual(1);
  await page.getByRole('button', { name: 'undo' }).click();
  await expect.poll(async () => kg(await front.textContent())).toBe(f0);
});

test('places are nudged by keys and typed, boxes split the pack, a tyre over its load is warned of everywhere', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/layout/A`);
  await page.getByRole('button', { name: /^Pack, 9 modules/ }).click();
  const pack = page.locator('[data-block="side:design.layout.pack"]');
  await pack.focus();
  const row = page.getByTestId('block-design.layout.pack').getByRole('cell');
  await expect(row.nth(3)).toContainText('1.3 m');
  for (let i = 0; i < 3; i += 1) {
    await page.keyboard.press('ArrowLeft');
    await expect(row.nth(3)).toContainText(`${(1.29 - i / 100).toFixed(2)} m`);
  }
  // Faster than anything can answer: no step is lost.
  for (let i = 0; i < 6; i += 1) await page.keyboard.press('ArrowRight');
  await expect(row.nth(3)).toContainText('1.33 m');
  await page.keyboard.press('Shift+ArrowUp');
  await expect(row.nth(5)).toContainText('0.5 m');
  await page.getByRole('region', { name: 'Pack', exact: true }).getByLabel('To the right of the middle').fill('20 cm');
  await expect(row.nth(4)).toContainText('0.2 m');
  await page.getByRole('button', { name: 'To the other side' }).click();
  await expect(row.nth(4)).toContainText('−0.2 m');
  await page.getByRole('button', { name: 'To the middle' }).click();
  await expect(row.nth(4)).toHaveText('0 m');
  await expect(page.getByRole('button', { name: 'To the other side' })).toBeDisabled();
  await page.getByRole('region', { name: 'Pack', exact: true }).getByLabel('To the right of the middle').fill('0.2');
  await expect(page.getByText(/front \d+ kg left, \d+ kg right/)).toBeVisible();
  // Four of nine modules in front.
  await page.getByRole('button', { name: 'Add a box' }).click();
  const boxes = page.getByRole('region', { name: 'Boxes of the pack' });
  await boxes.getByLabel('Box', { exact: true }).fill('Under the bonnet');
  await expect(page.getByRole('button', { name: 'Under the bonnet, 4 modules' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Pack, 5 modules' })).toBeVisible();
  await expect(boxes).toContainText('Under the bonnet: not whole strings of 3');
  await boxes.getByLabel('Modules in it').fill('12');
  await expect(boxes).toContainText('to hold 12 modules and the pack has 9');
  await boxes.getByLabel('Modules in it').fill('-1');
  await expect(boxes.getByText(/-1 is out of range/)).toBeVisible();
  await boxes.getByLabel('Modules in it').fill('4');
  // Tyres of a load index too low for the rear.
  await page.getByRole('textbox', { name: 'Load index of the tyres' }).fill('78');
  await expect(page.getByText(/▲ over: \d+ kg of 425 kg/)).toBeVisible();
  await expect(page.getByRole('link', { name: /Layout/ })).toContainText('1 warning');
  await page.getByRole('textbox', { name: 'Load index of the tyres' }).fill('7');
  await expect(page.getByText(/7 is out of range; 20 to 126/)).toBeVisible();
  await saved(page);
});

test('cables follow the places, the electrics follow the cables, and a stated length that no longer fits is pointed out', async ({
  demo,
  watched: page,
}) => {
  const id = await demo.find('Whimbrel');
  await page.goto(`${demo.url}/c/${id}/electrics/C`);
  const assumed = page.getByText(/m of traction cable there and back by their places in the layout/);
  await expect(assumed).toBeVisible();
  const before = await assumed.textContent();
  await page.getByRole('link', { name: /^7 ?Layout/ }).click();
  const traction = page.getByTestId('cable-traction').getByRole('cell');
  await expect(traction.nth(1)).toHaveText('counts as placed');
  const near = Number((await traction.nth(0).textContent())?.replace(/ m$/, ''));
  // The controller goes half a metre forwards, away from the pack: a metre and a fifth more, there and back.
  await page.locator('[data-block="side:design.layout.controller"]').click();
  await page
    .getByRole('region', { name: 'Ness 156/500 inverter' })
    .getByRole('textbox', { name: 'Behind the front axle' })
    .fill('-0.4');
  await expect
    .poll(async () => Number((await traction.nth(0).textContent())?.replace(/ m$/, '')))
    .toBeCloseTo(near + 1.2, 1);
  await saved(page);
  await page.getByRole('link', { name: /^6 ?Electrics/ }).click();
  await expect(assumed).toBeVisible();
  await expect.poll(() => assumed.textContent()).not.toBe(before);
  // Taken into the design, the length is stated from then on; moved back, it no longer fits.
  await page
    .locator('[data-line="cable"]')
    .getByRole('button', { name: /^Take it/ })
    .click();
  await page.getByRole('link', { name: /^7 ?Layout/ }).click();
  await page.locator('[data-block="side:design.layout.controller"]').click();
  await page
    .getByRole('region', { name: 'Ness 156/500 inverter' })
    .getByRole('textbox', { name: 'Behind the front axle' })
    .fill('0.6');
  await expect(traction.nth(1)).toContainText('▲');
  await page.getByRole('button', { name: 'Use this value: Traction cable' }).click();
  await expect(traction.nth(1)).not.toContainText('▲');
  await saved(page);
});

test('on a phone the drawing stays within its frame, and a place is typed with one hand', async ({
  demo,
  watched: page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/layout/B`);
  await expect(page.getByTestId('layout-drawing')).toBeVisible();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(wide, 'nothing makes the page scroll sideways').toBeLessThanOrEqual(390);
  // Three wheels: a single one in front, a pair behind.
  await expect(page.getByText(/front \d+(\.\d)? kg; rear \d+(\.\d)? kg left, \d+(\.\d)? kg right/)).toBeVisible();
  await page.getByRole('button', { name: /^Pack, \d+ modules/ }).click();
  await page.getByRole('region', { name: 'Pack', exact: true }).getByLabel('Along the vehicle').click();
  await page.getByRole('option', { name: 'over the front axle' }).click();
  const row = page.getByTestId('block-design.layout.pack').getByRole('cell');
  await expect(row.nth(3)).toHaveText('0 m');
  // Back to what is usual for the kind.
  await page.getByRole('button', { name: 'As usual for the kind' }).click();
  await expect(row.nth(3)).toContainText('(usual)');
  await saved(page);
});

const block = (path: string, more: Partial<BlockView>): BlockView => ({
  path,
  kind: 'added',
  name: path,
  mass_kg: 10,
  along_m: 1,
  right_m: 0,
  up_m: 0.5,
  length_m: 0.2,
  width_m: 0.2,
  height_m: 0.2,
  placed: true,
  across_said: true,
  up_said: true,
  with_motor: false,
  movable: false,
  cuts_string: false,
  sized_by: 'mass',
  ...more,
});

test('a move in hand multiplies what the core said, and writes only what it changed', () => {
  const motor = block('design.layout.motor', { kind: 'motor', mass_kg: 40 });
  const follower = block('design.layout.controller', { with_motor: true });
  const out = block('donor.removed.0.at', { kind: 'removed', mass_kg: 100 });
  const sheet = {
    blocks: [motor, follower, out],
    front_kg: 500,
    rear_kg: 500,
    limits: [{ of: 'rear_axle', name: 'Rear axle', laden_kg: 500, limit_kg: 900, per_kg_m: 0.4 }],
    per_kg_m: 0.4,
  } as unknown as LayoutSheet;
  const to = { path: motor.path, along: 0.5, right: 0, up: 0 };
  expect([motor, follower, out].map((b) => goesAlong(sheet, b, to))).toEqual([true, true, false]);
  expect(laden(sheet, to)).toMatchObject({ front: 490, rear: 510, limits: [{ laden_kg: 510 }] });
  // What came out takes its weight away from where it goes.
  expect(laden(sheet, { ...to, path: out.path })).toMatchObject({ front: 520, rear: 480 });
  expect(laden(sheet, null)).toMatchObject({ front: 500, rear: 500 });
  expect(written(motor, 'designs.x.layout.motor', { ...to, along: 0.123, up: -2 })).toEqual([
    ['designs.x.layout.motor.along', { behind_front_axle_m: 1.123 }],
    ['designs.x.layout.motor.up_m', 0],
  ]);
  // However far one pulls, what is written is a place that is accepted.
  expect(written(motor, 'x', { ...to, along: 900, right: -900, up: 900 })).toEqual([
    ['x.along', { behind_front_axle_m: 20 }],
    ['x.right_m', -3],
    ['x.up_m', 6],
  ]);
});

test('a block in hand is drawn where it would be let go of, and bodies of every kind close on themselves', () => {
  const motor = block('design.layout.motor', { kind: 'motor' });
  const follower = block('design.layout.charger', { with_motor: true, right_m: 0.3 });
  const other = block('design.layout.pack', { kind: 'pack' });
  const sheet = { blocks: [motor, follower, other] } as unknown as LayoutSheet;
  const to = { path: motor.path, along: -0.4, right: 0.2, up: 0.1 };
  expect(during(sheet, motor, to)).toMatchObject({ along_m: 0.6, right_m: 0.2, up_m: 0.6 });
  // What goes with the motor goes along with it, and keeps its own side and height.
  expect(during(sheet, follower, to)).toMatchObject({ along_m: 0.6, right_m: 0.3, up_m: 0.5 });
  expect(during(sheet, other, to)).toBe(other);
  expect(during(sheet, motor, null)).toBe(motor);
  expect(summed(to, { ...to, right: 0.3 })).toEqual({ ...to, along: -0.8, right: 0.5, up: 0.2 });
  expect(summed(to, { ...to, path: other.path })).toEqual({ ...to, path: other.path });
  expect(summed(null, to)).toBe(to);
  expect([nudge('metric'), nudge('imperial')]).toEqual([0.01, 0.0254]);
  // An unknown block moves nothing.
  expect(during(sheet, other, { ...to, path: 'gone' })).toBe(other);
  expect(written(motor, 'x', { ...to, along: 0, right: 0, up: 0 })).toEqual([]);
  for (const [kind, corners] of Object.entries(outlines)) {
    expect(corners.length, kind).toBeGreaterThan(5);
    for (const [along, up] of corners) {
      expect(along >= 0 && along <= 1 && up > 0 && up <= 1, `${kind} at ${String(along)}, ${String(up)}`).toBe(true);
    }
    expect(Math.max(...corners.map((c) => c[1])), `${kind} is as tall as stated`).toBe(1);
  }
});

const metres = fc.double({ min: -30, max: 30, noNaN: true });
const drawnMove = fc.record({ path: fc.constantFrom('a', 'b', 'c'), along: metres, right: metres, up: metres });
const drawnSheet = fc
  .array(fc.record({ mass_kg: fc.double({ min: 0.1, max: 900, noNaN: true }), out: fc.boolean() }), {
    minLength: 3,
    maxLength: 3,
  })
  .map(
    (masses) =>
      ({
        blocks: masses.map((m, i) =>
          block(['a', 'b', 'c'][i] ?? '', { mass_kg: m.mass_kg, kind: m.out ? 'removed' : 'added' }),
        ),
        front_kg: 400,
        rear_kg: 600,
        limits: [
          { of: 'gross', name: 'Gross mass', laden_kg: 1000, limit_kg: 1200, per_kg_m: 0 },
          { of: 'front_axle', name: 'Front axle', laden_kg: 400, limit_kg: 500, per_kg_m: -0.5 },
        ],
        per_kg_m: 0.5,
      }) as unknown as LayoutSheet,
  );

test('whatever is pulled wherever, no mass is lost, ways add up and what is written is accepted', () => {
  fc.assert(
    fc.property(drawnSheet, drawnMove, drawnMove, (sheet, first, then) => {
      const now = laden(sheet, first);
      expect(now.front + now.rear).toBeCloseTo(1000, 6);
      // What no place can change stays; what stands beside an axle is that axle.
      expect(now.limits[0]?.laden_kg).toBe(1000);
      expect(now.limits[1]?.laden_kg).toBeCloseTo(now.front, 6);
      if (first.path === then.path) {
        const both = laden(sheet, summed(first, then)).front - 400;
        expect(both).toBeCloseTo(now.front - 400 + (laden(sheet, then).front - 400), 4);
      }
      for (const own of sheet.blocks) {
        const shown = during(sheet, own, first);
        expect({ ...shown, along_m: own.along_m, right_m: own.right_m, up_m: own.up_m }).toEqual(own);
        for (const [place, value] of written(own, 'x', first)) {
          const key = place.slice('x.'.length);
          const [group, name] = key === 'along' ? ['AxlePlace', 'behind_front_axle_m'] : ['Placement', key];
          const x =
            key === 'along' ? (value as { behind_front_axle_m: number }).behind_front_axle_m : (value as number);
          expect(
            x >= field(group ?? '', name ?? '').min && x <= field(group ?? '', name ?? '').max,
            `${place} ${String(x)}`,
          ).toBe(true);
        }
      }
    }),
    { numRuns: 80, seed: 20261128 },
  );
});

test('a block that is dragged jumps to the edges it comes near, each way by itself, and nowhere else', () => {
  const pack = block('design.layout.pack', { length_m: 0.4, width_m: 0.6, height_m: 0.2 });
  const motor = block('design.layout.motor', { along_m: 2, right_m: 0.4 });
  const out = block('donor.removed.0.at', { kind: 'removed', along_m: 1.25 });
  const bay = { name: 'Floor', along_m: 1.5, right_m: 0.1, up_m: 0.4, size_m: [0.8, 0.7, 0.3] };
  const sheet = { blocks: [pack, motor, out], bays: [bay] } as unknown as LayoutSheet;
  expect(placesBeside(sheet, pack.path).map((p) => p.name)).toEqual(['Floor', motor.name]);
  const to = (along: number, right: number, up: number) => snapped(sheet, pack, { path: pack.path, along, right, up });
  // Its front edge, at 0.8 and moved by 0.28, comes to the bay's at 1.1; across it comes to the middle of the vehicle.
  expect(to(0.28, 0, 0).along).toBeCloseTo(0.3, 9);
  expect(to(0.28, 0, 0)).toMatchObject({ right: 0, up: 0 });
  expect(to(0.2, 0, 0).along).toBeCloseTo(0.2, 9);
  expect(to(0, 0.02, 0).right).toBeCloseTo(0, 9);
  // Undersides: the bay's floor is at 0.25, the pack's at 0.4.
  expect(to(0, 0, -0.14).up).toBeCloseTo(-0.15, 9);
  fc.assert(
    fc.property(fc.double({ min: -2, max: 2, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }), (x, y) => {
      const at = to(x, y, 0);
      expect(Math.abs(at.along - x)).toBeLessThanOrEqual(NEAR_M);
      expect(Math.abs(at.right - y)).toBeLessThanOrEqual(NEAR_M);
      expect(at.up).toBe(0);
    }),
  );
});

test('lined up with something, sides and middles fall together', () => {
  const own = block('a', { length_m: 0.4, width_m: 0.6, height_m: 0.2 });
  const to = block('b', { along_m: 2, right_m: 0.4, up_m: 0.7, length_m: 1, width_m: 1, height_m: 0.4 });
  const value = (side: Parameters<typeof aligned>[2]) => aligned(own, to, side).value;
  expect(value('front')).toBeCloseTo(1.7, 9);
  expect(value('along')).toBeCloseTo(2, 9);
  expect(value('rear')).toBeCloseTo(2.3, 9);
  expect([value('left'), value('right')].map((x) => x.toFixed(3))).toEqual(['0.200', '0.600']);
  expect([value('bottom'), value('up'), value('top')].map((x) => x.toFixed(3))).toEqual(['0.600', '0.700', '0.800']);
  expect(aligned(own, to, 'top').key).toBe('up_m');
});

test('steps count from what the draft says, not from what was answered last', () => {
  const told = block('design.layout.pack', { along_m: 1.3, right_m: 0, up_m: 0.4 });
  expect(stated(told, { along: { behind_front_axle_m: 1.37 }, up_m: 0.5 })).toMatchObject({
    along_m: 1.37,
    right_m: 0,
    up_m: 0.5,
  });
  // Said in a word, or not at all, the place is the one that was worked out.
  expect(stated(told, { along: 'rear' })).toMatchObject({ along_m: 1.3, up_m: 0.4 });
  expect(stated(told, undefined)).toEqual(told);
});
