import { expect, saved, test } from '../service.js';

test('a chain is sized, closed by moving the motor, and found too weak when it is', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/layout/A`);
  const turning = page.getByRole('region', { name: 'Chain, shaft and coupler' });
  await expect(turning).toContainText('10 in front, 72 behind');
  await expect(turning.getByRole('img', { name: /Sprockets of 10 and 72 teeth/ })).toBeVisible();
  await turning.getByLabel('Between the shafts').fill('45 cm');
  const links = turning.locator('[data-line=links]');
  await expect(links).toContainText('apart: move them');
  await links.getByRole('button', { name: 'Links', exact: true }).click();
  await expect(links).toContainText('an odd number cannot be closed without a half link');
  await links.getByRole('button', { name: 'Take it: Links' }).click();
  await expect(links).toContainText('taut');
  await turning.getByRole('combobox', { name: 'Chain', exact: true }).click();
  await page.getByRole('option', { name: '25', exact: true }).click();
  await expect(turning).toContainText('a shock doubles the pull');
  await expect(page.getByRole('status').first()).toBeVisible();
  await saved(page);
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(turning).not.toContainText('a shock doubles the pull');
  await turning.getByRole('button', { name: '+ Shaft and key' }).click();
  await turning.getByLabel('Shaft', { exact: true }).fill('9');
  await expect(turning.locator('[data-line=torsion]')).toContainText('stop');
});

test('mounts take the fewest bolts that hold, and tell what stays when the vehicle is put back', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/layout/A`);
  const mounts = page.getByRole('region', { name: 'Mounts' });
  await expect(mounts).toContainText('held against 20 g along and 8 g across');
  await expect(mounts).toContainText('Leaves holes or welds: The pack.');
  const pack = mounts.getByTestId('mount-pack');
  await pack.getByRole('textbox', { name: 'Bolts', exact: true }).fill('1');
  await expect(pack).toContainText('4 needed');
  await pack.getByRole('textbox', { name: 'Bolts', exact: true }).fill('6');
  await expect(pack).not.toContainText('needed');
  // Into holes it has, of which there are four.
  await pack.getByLabel('Holes').click();
  await page.getByRole('option', { name: 'holes it has' }).click();
  await pack.getByLabel('Which').click();
  await page.getByRole('option', { name: 'tank straps' }).click();
  await mounts.getByLabel('no new holes, nothing welded').check();
  await expect(mounts).not.toContainText('Leaves holes');
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(page.getByRole('main')).toContainText('The pack takes 6 bolts; tank straps has 4 holes.');
  await page.getByRole('button', { name: 'Go to the layout' }).first().click();
  await mounts.getByRole('button', { name: 'The fewest M8 for all' }).click();
  await expect(mounts.getByTestId('mount-charger').getByRole('textbox', { name: 'Bolts', exact: true })).toHaveValue(
    '2',
  );
  // Holes are points on the drawing.
  const drawing = page.getByTestId('layout-drawing');
  const crosses = await drawing.locator('path[d*="v 8"]').count();
  await page.getByTestId('bolt-holes-0').getByRole('button', { name: 'Add a point' }).click();
  await expect(drawing.locator('path[d*="v 8"]')).toHaveCount(crosses + 2);
});
