import { readFile } from 'node:fs/promises';
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
  await page.getByRole('menuitem', { name: 'Something else' }).click();
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

test('an adapter plate is drawn, a hole too near the next is found, and what is saved is what was drawn', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Wren')}/layout/A`);
  await page.getByRole('button', { name: '+ Adapter plate' }).click();
  const plate = page.getByRole('region', { name: 'Adapter plate' });
  await expect(plate.getByRole('img', { name: 'Adapter plate with 5 holes, seen from the motor' })).toBeVisible();
  await plate.getByRole('button', { name: 'Add a hole of the gearbox' }).click();
  await plate.getByLabel('Above the shaft').fill('85');
  await expect(plate.locator('[data-line=web]')).toContainText('9.5 mm between motor 1 and gearbox 1');
  await plate.getByLabel('Above the shaft').fill('7.6 cm');
  await expect(plate.locator('[data-line=web]')).toContainText('0.5 mm between motor 1 and gearbox 1');
  await plate.getByLabel('Run-out of the bore, measured').fill('0.08');
  await expect(plate.locator('[data-line=run-out]')).toContainText('0.08 mm of 0.05 mm');
  await saved(page);
  const saving = page.waitForEvent('download');
  await plate.getByRole('button', { name: 'Plate as DXF' }).click();
  const file = await saving;
  expect(file.suggestedFilename()).toMatch(/-plate\.dxf$/);
  const text = await readFile(await file.path(), 'utf8');
  // Group codes and values in turn: a circle of 5.25 mm on the layer of holes, 76 mm up.
  expect(
    text
      .split(/\r?\n/)
      .map((l) => l.trim())
      .join(' '),
  ).toMatch(/ 8 HOLES .* 20 76(\.0+)? .* 40 5\.25/);
  for (const [label, end] of [
    ['Mass account as CSV', '-account.csv'],
    ['Plan as SVG', '-plan.svg'],
    ['Layout as JSON', '-layout.json'],
  ] as const) {
    const next = page.waitForEvent('download');
    await page.getByRole('button', { name: label }).click();
    expect((await next).suggestedFilename()).toContain(end);
  }
  await page.getByRole('link', { name: /Chain/ }).click();
  const findings = page.getByRole('main');
  await expect(findings).toContainText('0.5 mm stands between motor 1 and gearbox 1; 5.3 mm is the least.');
  await expect(findings).toContainText('The bore runs out by 0.08 mm; 0.05 mm is borne.');
});

test('a toothed belt in place of the chain is laid out, drawn, and held against what it bears', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/donor/A`);
  await page.getByRole('region', { name: 'Gearbox and final drive' }).getByRole('combobox').first().click();
  await page.getByRole('option', { name: /belt/ }).click();
  await page.getByRole('link', { name: /Layout/ }).click();
  const turning = page.getByRole('region', { name: 'Chain, shaft and coupler' });
  await expect(turning).toContainText('No stage of the gearing is a chain');
  await turning.getByRole('button', { name: 'Remove the chain' }).click();
  await turning.getByRole('button', { name: '+ Toothed belt' }).click();
  await expect(turning.locator('[data-line=belt_length]')).toContainText('of 252 teeth, taut with the shafts 497.8 mm');
  await turning.getByRole('button', { name: /^Take it/ }).click();
  await expect(turning.getByLabel('Between the shafts')).toHaveValue('497.8');
  await expect(turning.getByRole('img', { name: /Pulleys of 28 and 202 teeth/ })).toContainText(
    '252 teeth of the belt',
  );
  await turning.getByLabel('The belt bears').fill('500');
  await expect(turning.locator('[data-line=belt_pull]')).toContainText('of the 0.5 kN it bears');
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(page.getByRole('main')).toContainText('The belt is pulled with 0.9 kN; it bears 0.5 kN.');
});

test('the parts of a long stage are reached by their names, and Tab goes on from there', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/A`);
  const ways = page.getByRole('navigation', { name: 'Parts of this stage' });
  await expect(page.getByRole('region', { name: 'Taken out' })).toBeVisible();
  const names = await ways.getByRole('button').allTextContents();
  for (const name of names) await expect(page.getByRole('region', { name, exact: true })).toHaveCount(1);
  await ways.getByRole('button', { name: 'Taken out' }).click();
  await expect(page.getByRole('region', { name: 'Taken out' }).getByRole('heading').first()).toBeInViewport();
  await page.keyboard.press('Tab');
  expect(await page.evaluate(() => document.activeElement?.closest('section')?.getAttribute('aria-label'))).toBe(
    'Taken out',
  );
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

test('on a phone a plate is typed with one hand, the finder is asked, and the ways to the parts lead there', async ({
  demo,
  watched: page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${demo.url}/c/${await demo.find('Dunlin')}/layout/A`);
  const plate = page.getByRole('region', { name: 'Adapter plate' });
  await expect(plate.getByRole('img', { name: 'Adapter plate with 12 holes, seen from the motor' })).toBeVisible();
  await page
    .getByRole('navigation', { name: 'Parts of this stage' })
    .getByRole('button', { name: 'Chain, shaft and coupler' })
    .click();
  await expect(
    page.getByRole('region', { name: 'Chain, shaft and coupler' }).getByRole('heading').first(),
  ).toBeInViewport();
  await plate.getByRole('button', { name: 'Remove hole 2' }).click();
  await expect(plate.getByRole('img', { name: 'Adapter plate with 11 holes, seen from the motor' })).toBeVisible();
  // Half a figure is no figure, and takes nothing away from the drawing.
  await plate.getByLabel('Bore for the motor').fill('1x');
  await expect(plate.getByLabel('Bore for the motor')).toHaveAttribute('aria-invalid', 'true');
  await expect(plate.locator('[data-line=plate]')).toContainText('15 mm thick');
  await plate.getByLabel('Bore for the motor').fill('4 in');
  await expect(plate.locator('[data-line=web]')).toContainText('between bore and motor 1');
  await saved(page);
  const places = page.getByRole('region', { name: 'What the motor’s place changes' });
  await expect(places.getByTestId('motor-shaft')).toContainText('as it is');
  await expect(places.getByTestId('motor-every_wheel')).toContainText('all wheels');
  const wide = () => page.evaluate(() => document.documentElement.scrollWidth);
  await expect.poll(wide).toBeLessThanOrEqual(390);
});
