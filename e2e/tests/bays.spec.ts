import { layersOf } from '../../web/src/stages/layout/Bays.js';
import { expect, saved, test } from '../service.js';

test('a bay tells what fits, the pack is spread over bays and taken, and what no longer fits is found', async ({
  demo,
  watched: page,
}) => {
  const id = await demo.find('Whimbrel');
  await page.goto(`${demo.url}/c/${id}/layout/A`);
  const floor = page.getByTestId('bay-0');
  const bonnet = page.getByTestId('bay-1');
  await expect(floor).toContainText('21 modules of Amber 12s module fit, in one layer. 9 lie here');
  await expect(bonnet).toContainText(
    '5 modules of Amber 12s module fit, in one layer; there is room for 6, but not for their mass',
  );
  await expect(bonnet.getByRole('img', { name: /with 5 modules/ }).locator('rect')).toHaveCount(2 + 2 * 5);
  // On their sides they were too high for two layers; lying flat two fit; a height that is not known says nothing.
  await floor.getByLabel('Height').fill('0.3');
  await expect(floor).toContainText('30 modules of Amber 12s module fit, 2 layers of 15');
  await floor.getByLabel('Height').fill('');
  await expect(floor).toContainText('Length, width and height tell what fits.');
  await floor.getByLabel('Height').fill('26 cm');
  await expect(floor).toContainText('21 modules');

  const spread = page.getByRole('region', { name: 'The pack over the bays' });
  await spread.getByRole('button', { name: 'Spread the pack over the bays' }).click();
  await expect(spread).toContainText('All 18 ways were tried');
  const first = page.getByTestId('split-6-3-0').getByRole('cell');
  await expect(first.nth(3)).toContainText('40.7 %');
  await expect(first.nth(4)).toHaveText('none');
  // Any other split is worked out beside it, one that is not the pack is refused.
  const own = spread.getByLabel('Modules in under the bonnet');
  await own.fill('2');
  await expect(spread).toContainText('11 of 9 modules: as many as the pack has are accepted');
  await spread.getByLabel('Modules in under the load floor').fill('7');
  await expect(page.getByTestId('split-own')).toContainText('2 boxes hold part of one');
  await spread.getByLabel('Modules in under the load floor').fill('2');
  await spread.getByLabel('Modules in where the tank was').fill('5');
  await expect(spread).toContainText('▲ room for 2');
  await spread.getByRole('button', { name: 'Take 6 + 3 + 0' }).click();
  await saved(page);
  await expect(page.getByTestId('block-design.layout.boxes.0.at')).toContainText('under the bonnet');
  await expect(bonnet).toContainText('3 lie here');
  await expect(floor).toContainText('6 lie here');
  await expect.poll(async () => page.getByTestId('state-laden').getByRole('cell').nth(3).textContent()).toContain('41');

  // A bay that turns out lower than it was measured: said where a chain is judged, with the way back here.
  await bonnet.getByLabel('Height').fill('0.1');
  await expect(bonnet).toContainText('0 modules of Amber 12s module fit');
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  const findings = page.getByRole('main');
  await expect(findings).toContainText('3 modules lie in under the bonnet; 0 fit there.');
  await findings.getByRole('button', { name: 'Go to the layout' }).first().click();
  await expect(bonnet).toBeVisible();
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(bonnet).toContainText('5 modules');
});

test('other blocks find a place in the bays beside the pack, and what is taken is what was told', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/layout/A`);
  const spread = page.getByRole('region', { name: 'The pack over the bays' });
  await spread.getByRole('button', { name: 'Spread the pack over the bays' }).click();
  await expect(spread).toContainText('All 18 ways were tried');
  const may = spread.getByLabel('What may move too');
  for (const name of await may.getByRole('checkbox').all()) await name.check();
  await expect(spread).toContainText('All 18918 ways were tried');
  const row = spread.getByRole('row', { name: /\+ / }).first();
  await expect(row.getByRole('cell').nth(4)).toHaveText('none');
  const told = Number.parseFloat((await row.getByRole('cell').nth(3).textContent()) ?? '');
  await row.getByRole('button', { name: /^Take / }).click();
  await saved(page);
  const front = page.getByTestId('state-laden').getByRole('cell').filter({ hasText: '%' }).first();
  // Told to a tenth of a percent, shown as a whole one.
  await expect
    .poll(async () => Math.abs(Number.parseFloat((await front.textContent()) ?? '') - told))
    .toBeLessThanOrEqual(0.55);
  // Nothing lies in anything else, and the way back is one step.
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(page.getByRole('main')).not.toContainText('share the same room');
  await page.getByRole('link', { name: /Layout/ }).click();
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(page.getByTestId('bay-0')).toContainText('9 lie here');
});

test('where something came out, the whole library is held against the room it left', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/layout/A`);
  await page.getByRole('button', { name: '+ where Seized two-stroke and tank was' }).click();
  const bay = page.getByTestId('bay-2');
  await expect(bay.getByLabel('Bay', { exact: true })).toHaveValue('where Seized two-stroke and tank was');
  await expect(bay.getByLabel('Behind the front axle')).toHaveValue('1.75');
  await expect(bay.getByRole('button', { name: 'What of the library fits' })).toBeDisabled();
  for (const [label, value] of [
    ['Length', '0.4'],
    ['Width', '40 cm'],
    ['Height', '0.25'],
  ] as const)
    await bay.getByLabel(label).fill(value);
  await bay.getByRole('button', { name: 'What of the library fits' }).click();
  const rows = bay.getByRole('table', { name: /What of the library fits/ }).getByRole('row');
  await expect(rows).toHaveCount(11);
  const kwh = (await rows.locator('td:nth-child(3)').allTextContents()).map((t) => Number.parseFloat(t));
  expect(kwh).toEqual([...kwh].sort((a, b) => b - a));
  const all = await rows.nth(1).textContent();
  // A limit of mass leaves fewer of the same.
  await bay.getByLabel('May carry').fill('20 kg');
  await expect(rows.nth(1)).not.toHaveText(all ?? '');
  await expect(bay.getByText(/by mass/).first()).toBeVisible();
  await saved(page);
  await bay.getByRole('button', { name: /remove/i }).click();
  await expect(bay).toHaveCount(0);
});

test('layers are told in words', () => {
  expect([[], [5], [12, 12], [12, 12, 4], [3, 1]].map(layersOf)).toEqual([
    '',
    'in one layer',
    '2 layers of 12',
    'layers of 12, 12 and 4',
    'layers of 3 and 1',
  ]);
});

test('two windows measure bays of one donor: both keep theirs, and one figure typed twice asks for that figure alone', async ({
  demo,
  watched: page,
  context,
}) => {
  const id = await demo.find('Whimbrel');
  const address = `${demo.url}/c/${id}/layout/A`;
  await page.goto(address);
  const other = await context.newPage();
  await other.goto(address);
  const [here, there] = [page.getByTestId('bay-0'), other.getByTestId('bay-1')];
  await expect(here.getByLabel('Length')).toBeVisible();
  await expect(there.getByLabel('Length')).toBeVisible();
  await here.getByLabel('Bay', { exact: true }).fill('under the floor of the load');
  await saved(page);
  await there.getByLabel('Height').fill('0.22');
  await saved(other);
  await expect(other.getByTestId('bay-0').getByLabel('Bay', { exact: true })).toHaveValue(
    'under the floor of the load',
  );
  await expect(there.getByLabel('Height')).toHaveValue('0.22');
  await expect(other.getByRole('dialog')).toHaveCount(0);
  // The other window is told of the other bay as well, and nothing is there twice.
  await page.reload();
  await expect(page.getByTestId('bay-1').getByLabel('Height')).toHaveValue('0.22');
  await expect(page.getByTestId(/^bay-\d+$/)).toHaveCount(3);
  await other.close();
});
