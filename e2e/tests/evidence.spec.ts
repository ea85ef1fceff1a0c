import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, saved, test } from '../service.js';

const demo = (name: string) => fileURLToPath(new URL(`../../demo/${name}`, import.meta.url));

test('every claim is a band that opens to what it hangs on and why it is so', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/chain/A`);
  const range = page.getByTestId('claim-range');
  await expect(range).toContainText(/[\d.]+ to [\d.]+/);
  await expect(range).toContainText(/likely|met|missed/);
  await range.click();
  const drawer = page.getByRole('dialog');
  await expect(drawer.getByRole('region', { name: 'What to measure' })).toContainText(/band [\d.]+ → [\d.]+ km/);
  await expect(drawer.getByRole('listitem').first()).toContainText(/data sheet|handbook|guess|measured/);
  await drawer.getByRole('tab', { name: 'Why this number' }).click();
  await expect(drawer).toContainText('capacity x integral of the open-circuit voltage');
  await drawer.getByRole('button', { name: 'Open usable energy' }).click();
  await expect(drawer).toContainText('capacity of the cells');
  await drawer.getByRole('button', { name: 'Close', exact: true }).click();

  // A better source narrows the band: its width is what the two ends in the strip are apart.
  const width = async () => {
    const found = /([\d.]+) to ([\d.]+)/.exec(await range.innerText());
    return Number(found?.[2]) - Number(found?.[1]);
  };
  const before = await width();
  await page.getByRole('button', { name: /^Pack/ }).click();
  await page.getByRole('button', { name: /Its ratings/ }).click();
  await page.getByRole('button', { name: /Capacity when new: data sheet/ }).click();
  await page.getByRole('menuitem', { name: /guess/ }).click();
  await expect.poll(width).toBeGreaterThan(before * 1.5);
  await page.getByRole('button', { name: /Capacity when new: guess/ }).click();
  await page.getByLabel('Uncertainty ± (80 % of cases)').fill('60');
  await expect(page.getByText('0 to 40 % is accepted')).toBeVisible();
  await page.getByLabel('Uncertainty ± (80 % of cases)').fill('1');
  await page.keyboard.press('Escape');
  await expect.poll(width).toBeLessThan(before);
  await saved(page);
});

test('a recorded track becomes a trip, with its spike named; nonsense is refused in words', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/brief/A`);
  const file = page.getByLabel('Import a track (GPX, CSV)');
  await file.setInputFiles({
    name: 'back.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time_s,speed_kmh\n0,0\n9,20\n4,30\n'),
  });
  await expect(page.getByRole('alert')).toContainText('row 4, time is 4 s; time cannot run backwards');
  await page.getByRole('button', { name: 'Close' }).click();
  await file.setInputFiles(demo('harbour-round.gpx'));
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Harbour round, recorded');
  await expect(dialog).toContainText('point 213, elevation: 9 000 m');
  await dialog.getByRole('button', { name: 'Take it as a trip' }).click();
  const row = page.getByRole('row', { name: /Harbour round, recorded/ });
  await expect(row).toContainText('km');
  await page
    .getByRole('button', { name: /Look along it/ })
    .last()
    .click();
  await expect(page.getByRole('figure', { name: 'The way from above, north up' })).toBeVisible();
  await expect(page.getByRole('table', { name: 'Summer and winter, gently and briskly' })).toContainText('winter');
  await expect(page.getByRole('figure', { name: /Heat/ })).toBeVisible();
  await saved(page);
});

test('a dialog that is opened again while it closes gives the page back', async ({ demo: service, watched: page }) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/brief/A`);
  const file = page.getByLabel('Import a track (GPX, CSV)');
  const close = page.getByRole('button', { name: 'Close' });
  const nonsense = {
    name: 'back.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time_s,speed_kmh\n0,0\n9,20\n4,30\n'),
  };
  for (const pause of [0, 90, 150, 170, 180, 190, 200, 220]) {
    await file.setInputFiles(nonsense);
    await close.click();
    await page.waitForTimeout(pause);
    await file.setInputFiles(nonsense);
    await expect(page.getByRole('alert')).toBeVisible();
    await close.click();
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect(page.locator('#root')).not.toHaveAttribute('aria-hidden');
  }
});

test('a coast-down is fitted, drawn and taken over', async ({ demo: service, watched: page }) => {
  await page.goto(`${service.url}/c/${await service.find('Pipit')}/donor/A`);
  const file = page.getByLabel('Import a coast-down (CSV)');
  await file.setInputFiles({
    name: 'x.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time_s,speed_kmh\n0,50\n'),
  });
  await expect(page.getByText(/a column direction is needed/)).toBeVisible();
  await file.setInputFiles(demo('whimbrel-coast-down.csv'));
  const evidence = page.getByRole('region', {
    name: 'Evidence for the road load',
  });
  // A van's log in a trike's papers: shown, said to be unusual, and not the one to take.
  await expect(evidence).toContainText('is outside what is typical of its kind');
  await expect(evidence).toContainText('Typical of its kind best');
  await expect(evidence.getByRole('figure', { name: /Residuals/ })).toBeVisible();
  await evidence.getByRole('button', { name: 'Use this value' }).first().click();
  await expect(evidence).toContainText('in use');
  await expect(page.getByRole('button', { name: /Rolling resistance: measured/ }).first()).toBeVisible();
  await saved(page);
});

test('an unknown motor goes over the bench into the library and the design', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Pipit')}/chain/A`);
  await page.getByRole('button', { name: /^Motor/ }).click();
  await page.getByRole('button', { name: 'Bench-test an unknown motor' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name of the part').fill('Jetty find');
  await dialog.getByLabel('Highest speed').fill('4000');
  await dialog.getByLabel('Peak motor current').fill('200');
  await dialog.getByLabel('Continuous power').fill('2.5 kW');
  await dialog.getByLabel(/^Mass/).fill('11');
  await dialog.getByLabel(/Without load/).fill('12 2.9 1040\n24 3.0 2085\nfast');
  await dialog.getByLabel(/Shaft held/).fill('1.1 40\n2.2 80');
  await dialog.getByRole('button', { name: 'Work out its constants' }).click();
  await expect(dialog.getByRole('alert')).toContainText('line 3: "fast" is not 3 numbers');
  await dialog.getByLabel(/Without load/).fill('12 2.9 1040\n24 3.0 2085\n36 3.1 3128');
  await dialog.getByRole('button', { name: 'Work out its constants' }).click();
  await expect(dialog).toContainText(/Torque constant, Kt = Ke\s*0\.11 ±/);
  await dialog.getByRole('button', { name: 'Keep it and use it here' }).click();
  await expect(page.getByRole('list', { name: 'Power path from cell to tyre' })).toContainText('Jetty find');
  await saved(page);
  expect(readFileSync(demo('pipit-a.json'), 'utf8')).not.toContain('Jetty find');

  // A curve from a data sheet is pasted; one that rises with speed is refused with its point, and nothing typed is lost.
  await page.getByRole('button', { name: /Its ratings/ }).click();
  const curve = page.getByLabel(/Torque curve of its data sheet/);
  await curve.fill('0 60\n1500 40 0.85\n3000 70 80');
  await page.getByRole('button', { name: 'Use this curve' }).click();
  await expect(page.getByRole('main').getByRole('alert')).toContainText(
    'Row 3: Torque is 70; torque cannot rise with speed',
  );
});

test('a measured drive is answered beside its trip, in the units it is read in', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/brief/A`);
  const drives = page.getByRole('group', { name: 'Measured drives of Bakery round', exact: true });
  await drives.getByRole('button', { name: 'Add a measured drive' }).click();
  await expect(drives).toContainText(/say what it took/);
  await drives.getByLabel('When, by whom').fill('January, four up');
  await drives.getByLabel('Driven').fill('18 mi');
  await drives.getByLabel('Charge it took').fill('60 %');
  await drives.getByLabel('Air temperature').fill('1');
  await expect(drives).toContainText(/\d+ % more than predicted: it took 60 % of the charge, predicted \d+ %/);
  await expect(drives.getByRole('listitem').first()).toContainText(/trip's speeds|wind|drag|brakes|pack/);
  // By the meter, as predicted: it agrees, and there is nothing to explain.
  const battery = await page
    .getByRole('row', { name: /^Bakery round/ })
    .getByText('Wh/km')
    .first()
    .innerText();
  await drives.getByLabel('Energy out of the pack').fill(String((Number.parseFloat(battery) * 28.97) / 1000));
  await drives.getByLabel('Air temperature').fill('');
  await expect(drives).toContainText(/agrees: it took [\d.]+ kWh/);
  await expect(drives.getByRole('listitem')).toHaveCount(0);
  await drives.getByRole('button', { name: 'Remove the drive January, four up' }).click();
  await expect(drives.getByLabel('Driven')).toHaveCount(0);
  await saved(page);
});

test('fuel in town and on the road is taken as what is told; a lone coast-down hides neither', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Wren')}/donor/A`);
  const evidence = page.getByRole('region', { name: 'Evidence for the road load' });
  await evidence.getByLabel('Fuel used in town').fill('17 mpg');
  await expect(evidence).toContainText('town, taken as ECE 15, mean 19 km/h');
  await evidence.getByLabel('Import a coast-down (CSV)').setInputFiles({
    name: 'out.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time_s,speed_kmh,direction\n0,60,out\n1,59,out\n2,58.1,out\n3,57.1,out\n'),
  });
  await expect(evidence.getByRole('alert')).toContainText('no run back');
  await expect(evidence).toContainText('Fuel it used');
  await evidence.getByLabel('Fuel used in town').fill('500 mpg');
  await expect(evidence.getByRole('alert').filter({ hasText: 'cannot be explained' })).toBeVisible();
  await expect(evidence).toContainText('Typical of its kind best');
  await saved(page);
});

test('an axle over its plate is a warning that says what it assumes, until the places are stated', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/donor/A`);
  await page.getByRole('textbox', { name: 'Rated rear axle mass' }).fill('500');
  const findings = page.getByRole('main');
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(findings).toContainText(/The rear axle comes to \d+ kg laden; it is rated for 500 kg\./);
  await page.getByRole('button', { name: /^Motor/ }).click();
  await page.getByRole('combobox', { name: 'Along the vehicle' }).click();
  await page.getByRole('option', { name: 'usual for the kind' }).click();
  await expect(findings).toContainText(/The rear axle comes to \d+ kg laden; .*Assumed: .*the motor in front/);
  await page.getByRole('combobox', { name: 'Along the vehicle' }).click();
  await page.getByRole('option', { name: 'by its distance' }).click();
  await page.getByLabel('Behind the front axle').fill('0.3');
  await expect(findings).not.toContainText('the motor in front');
  await expect(findings).toContainText(/The rear axle comes to \d+ kg laden; /);
  await saved(page);
});
