import { expect, saved, test } from '../service.js';

test('the donor is weighed level and lifted, and what the scales tell is taken over', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/B`);
  const scales = page.getByRole('region', { name: 'On scales' });
  for (const [label, kg] of [
    ['Front left', '262'],
    ['Front right', '254'],
    ['Rear left', '290'],
    ['Rear right', '288 kg'],
  ] as const)
    await scales.getByLabel(label).fill(kg);
  await expect(scales).toContainText('1 094 kg, 47.2 % in front');
  await expect(scales).toContainText('left of the middle');
  // The rear half a metre up: 31 kg more in front.
  await scales.getByLabel('Then one axle lifted').click();
  await page.getByRole('option', { name: 'the rear one' }).click();
  await scales.getByLabel('Lifted by').fill('50 cm');
  await scales.getByLabel('The other axle then').fill('547');
  await scales.getByLabel('Wheel middles above the ground').fill('0.3');
  // h = 0.3 + 31 x 2.41 / (1094 x tan(asin(0.5 / 2.41))) = 0.622 m (ISO 10392).
  await expect(scales).toContainText('0.622 m above the ground');
  await scales.getByLabel('Lifted by').fill('2.6');
  await expect(scales).toContainText('an axle cannot be lifted by 2.6 m');
  await scales.getByLabel('Lifted by').fill('0.5');
  await scales.getByRole('button', { name: 'Use what was weighed' }).click();
  await expect(scales).toContainText('in use');
  await expect(page.getByLabel('Kerb mass', { exact: true })).toHaveValue('1094');
  await expect(page.getByLabel('Height of the centre of gravity', { exact: true })).toHaveValue('0.622');
  await expect(page.getByRole('button', { name: 'Kerb mass: measured; change where it comes from' })).toBeVisible();
  await saved(page);
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(page.getByLabel('Kerb mass', { exact: true })).toHaveValue('1085');
});

test('the teardown: cautions by year, hoped-for money counts in nothing, the ledger leaves and comes back', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/B`);
  const out = page.getByRole('region', { name: 'Taken out' });
  await expect(out).toContainText('Sold for 570 EUR');
  await page.getByRole('textbox', { name: 'Bought for' }).fill('1500');
  await expect(out).toContainText('the donor comes to 930 EUR');
  await out.getByLabel('It is').first().click();
  await page.getByRole('option', { name: 'for sale' }).click();
  await expect(out).toContainText(
    'Sold for 150 EUR; 420 EUR hoped for, counted in nothing until it is in hand; the donor comes to 1 350 EUR',
  );
  await out.getByText('In which order, and what can hurt').click();
  const steps = out.getByTestId('teardown-steps');
  await expect(steps).toContainText('licensed refrigerant workshop, before any pipe is opened');
  await page.getByRole('textbox', { name: 'Built in' }).fill('1979');
  await expect(steps).not.toContainText('Refrigerant');
  await steps.getByRole('button', { name: /Into the ledger, about 14 kg/ }).click();
  await expect(out.getByLabel('Item').nth(3)).toHaveValue('Starter and alternator');
  await saved(page);
  const leaves = page.waitForEvent('download');
  await out.getByRole('button', { name: 'as CSV' }).click();
  const chunks: Buffer[] = [];
  for await (const chunk of await (await leaves).createReadStream()) chunks.push(chunk as Buffer);
  const csv = Buffer.concat(chunks).toString();
  expect(csv.split('\n')[1]).toBe('Engine and ancillaries,128,for sale,420,an engine builder,0.05,,0.7');
  const input = out.getByLabel('Ledger from CSV');
  await input.setInputFiles({
    name: 'bad.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('item,mass_kg\nEngine,heavy\n'),
  });
  await expect(out.getByRole('alert')).toContainText('row 2, mass_kg');
  await expect(out.getByLabel('Item')).toHaveCount(4);
  await input.setInputFiles({
    name: 'l.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`${csv}Gauges,1.5,kept,,,,,\n`),
  });
  await expect(out.getByLabel('Item')).toHaveCount(5);
  await expect(page.getByText(/5 items read in place of 4/)).toBeVisible();
  await saved(page);
});

test('scales, ledger and bays speak pounds and feet where those are shown', async ({ demo, watched: page }) => {
  const id = await demo.find('Pipit');
  await page.goto(`${demo.url}/c/${id}/donor/A`);
  await page.getByRole('combobox', { name: 'Units' }).click();
  await page.getByRole('option', { name: 'mi · lb · hp' }).click();
  const scales = page.getByRole('region', { name: 'On scales' });
  await scales.getByLabel('Front axle').fill('180');
  // Any unit is still understood, and said back.
  await scales.getByLabel('Rear axle').fill('176 kg');
  await expect(scales).toContainText('= 388 lb');
  await expect(scales).toContainText('568 lb, 31.7 % in front');
  await page.getByText('In which order, and what can hurt').click();
  await expect(page.getByTestId('teardown-steps')).toContainText(/Into the ledger, about \d+ lb/);
  await page.goto(`${demo.url}/c/${id}/layout/A`);
  const bay = page.getByTestId('bay-0');
  await expect(bay).toContainText(/4 lie here, \d+ lb/);
  await bay.getByRole('button', { name: 'What of the library fits' }).click();
  const table = bay.getByRole('table', { name: /What of the library fits/ });
  await expect(table).toContainText(' lb');
  await page.getByRole('button', { name: 'Spread the pack over the bays' }).click();
  await expect(page.getByRole('table', { name: 'Ways to spread the pack' })).toContainText(/\d in/);
  await expect(page.getByRole('region', { name: 'Room for the pack' })).not.toContainText(/\d (kg|m)\b/);
});

test('on a phone bays are measured and the ledger is kept, and nothing runs off the side', async ({
  demo,
  watched: page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const id = await demo.find('Whimbrel');
  const within = async () =>
    expect(await page.evaluate(() => window.document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  await page.goto(`${demo.url}/c/${id}/layout/A`);
  const bay = page.getByTestId('bay-2');
  await expect(bay).toContainText('2 modules');
  await bay.getByLabel('Length').fill('0.9');
  await expect(bay).not.toContainText('2 modules');
  await bay.getByRole('button', { name: 'What of the library fits' }).click();
  await expect(bay.getByRole('table', { name: /What of the library fits/ })).toBeVisible();
  await page.getByRole('button', { name: 'Spread the pack over the bays' }).click();
  await expect(page.getByRole('table', { name: 'Ways to spread the pack' })).toBeVisible();
  await within();
  await page.goto(`${demo.url}/c/${id}/donor/A`);
  await expect(page.getByRole('region', { name: 'Taken out' })).toContainText('Sold for');
  await page.getByText('In which order, and what can hurt').click();
  await within();
  await saved(page);
});

test('what was understood of a unit stays in sight, so that what lies below it can be clicked', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/layout/A`);
  const bay = page.getByTestId('bay-0');
  const [limit, below] = [bay.getByLabel('May carry'), bay.getByRole('button', { name: 'What of the library fits' })];
  await limit.fill('500 lb');
  await expect(bay).toContainText('= 226.8 kg');
  await below.scrollIntoViewIfNeeded();
  const before = await below.boundingBox();
  // Pressed and let go of at the same place, as a hand does it: leaving the field moves nothing away in between.
  await page.mouse.move((before?.x ?? 0) + 20, (before?.y ?? 0) + 8);
  await page.mouse.down();
  await expect(limit).toHaveValue(/^226\./);
  expect(await below.boundingBox()).toEqual(before);
  await page.mouse.up();
  await expect(bay.getByRole('table', { name: /What of the library fits/ })).toBeVisible();
  await limit.fill('300');
  await expect(bay).not.toContainText('= 226.8 kg');
  await saved(page);
});
