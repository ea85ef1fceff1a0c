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

test('what else is put in weighs, and a cable that passes it is found, mended by lining it up elsewhere', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/layout/A`);
  const put = page.getByRole('region', { name: 'Everything else put in' });
  await put.getByRole('button', { name: 'Put something in' }).click();
  const item = put.getByTestId('put-in-3');
  await item.getByLabel('What').fill('Cabin heater');
  await item.getByLabel('Mass').fill('12 lb');
  const laden = page.getByTestId('state-laden');
  await expect(laden).toContainText('1 472 kg');
  // In the way of the traction cable, at its height, and small.
  await item.getByLabel('It sits').click();
  await page.getByRole('option', { name: 'by its distance' }).click();
  await page.getByRole('button', { name: 'Cabin heater', exact: true }).click();
  const own = page.getByRole('region', { name: 'Cabin heater', exact: true });
  for (const [label, value] of [
    ['Behind the front axle', '0.72'],
    ['To the right of the middle', '0'],
    ['Above the ground', '0.4'],
    ['Length', '10 cm'],
    ['Width', '20 cm'],
    ['Height', '20 cm'],
  ] as const)
    await own.getByLabel(label, { exact: true }).first().fill(value);
  await item.getByLabel('Cables keep away').click();
  await page.getByRole('option', { name: 'it gets hot' }).click();
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  const findings = page.getByRole('main');
  await expect(findings).toContainText('Traction cable runs through Cabin heater.');
  await findings.getByRole('button', { name: 'Go to the layout' }).first().click();
  await page.getByRole('button', { name: 'Cabin heater', exact: true }).click();
  // Its left side against that of the bay under the load floor: out of the way.
  await own.getByLabel('Line it up with').click();
  await page.getByRole('option', { name: 'under the load floor' }).click();
  await own.getByRole('button', { name: 'left sides' }).click();
  await expect(own.getByLabel('To the right of the middle')).toHaveValue('-0.48');
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(findings).not.toContainText('Cabin heater');
});

test('in inches and on a phone the mechanical sheet reads as well', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/layout/A`);
  const turning = page.getByRole('region', { name: 'Chain, shaft and coupler' });
  await expect(turning.locator('[data-line=diameters]')).toContainText('41.1 mm and 291.2 mm');
  await page.getByLabel('Units').click();
  await page.getByRole('option', { name: 'mi · lb · hp' }).click();
  await expect(turning.locator('[data-line=diameters]')).toContainText('1.62 in and 11.46 in');
  await expect(turning.getByRole('img', { name: /Sprockets/ })).toContainText(/\d in · from the left/);
  await turning.getByLabel('Between the shafts').fill('17');
  await expect(turning.locator('[data-line=links]')).toContainText('in apart');
  await saved(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await expect(turning.locator('[data-line=pull]')).toBeVisible();
  // The drawing follows the window a frame later.
  await expect.poll(() => page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
