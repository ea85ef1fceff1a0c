import { readFileSync } from 'node:fs';
import { expect, saved, test } from '../service.js';

test('from an empty list to a judged design', async ({ empty, watched: page }) => {
  await page.goto(empty.url);
  await expect(page.getByRole('heading', { name: 'No conversions yet' })).toBeVisible();
  await page.getByRole('button', { name: 'New conversion' }).click();
  await page.getByRole('button', { name: 'Begin without parts' }).click();
  await expect(page.getByText('Give the vehicle a name')).toBeVisible();
  await page.getByLabel('Name of the vehicle').fill('Wren, orchard hauler');
  await page.getByLabel('Kind').click();
  await page.getByRole('option', { name: 'light van' }).click();
  await page.getByRole('button', { name: 'Begin without parts' }).click();

  // Nothing can be told yet, and the page says what is missing.
  await expect(page.getByLabel('Claims')).toContainText('Choose a motor');
  await page.getByRole('link', { name: /Donor/ }).click();
  await page.getByRole('textbox', { name: 'Kerb mass' }).fill('2200 lb');
  await expect(page.getByText('= 997.9 kg')).toBeVisible();
  await page.getByRole('link', { name: /Chain/ }).click();
  for (const [choose, part] of [
    ['Choose a motor', 'Shearwater 18 induction'],
    ['Choose a controller', 'Ness 130/450 inverter'],
    ['Choose a pack', 'Amber 12s module'],
  ] as const) {
    await page.getByRole('button', { name: choose }).click();
    await page.getByRole('button', { name: `Use ${part}` }).click();
  }
  await expect(page.getByRole('list', { name: 'Power path from cell to tyre' })).toBeVisible();
  await expect(page.getByTestId('claim-top')).toContainText(/met|missed/);
  await expect(page.getByTestId('claim-range')).toContainText('km');
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: /Charge/ })
    .click();
  await page.getByRole('button', { name: 'Choose a charger' }).click();
  await page.getByRole('button', { name: 'Use Brook 3.3, 80-130 V' }).click();
  await expect(page.getByRole('table', { name: 'Charging at each socket' })).toContainText(/\d h \d\d/);
  await saved(page);

  // A reload keeps everything.
  // The bands follow the central figures by a moment.
  await expect(page.getByTestId('claim-range')).toContainText(/[\d.]+ to [\d.]+/);
  const claims = () => page.getByTestId(/^claim-/).allInnerTexts();
  const strip = await claims();
  await page.reload();
  await expect(page.getByTestId('claim-range')).toBeVisible();
  await expect.poll(claims).toEqual(strip);
  await page.goto(empty.url);
  await expect(page.getByRole('link', { name: 'Wren, orchard hauler', exact: true })).toBeVisible();
});

test('an edit moves the claims strip, undo and redo take it back and forth, units switch everywhere', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/chain/A`);
  const range = page.getByTestId('claim-range');
  const figure = async () => Number(/([\d.]+)\s*km/.exec(await range.innerText())?.[1]);
  await expect(range).toContainText('km');
  const before = await figure();
  await page.getByRole('button', { name: /^Pack/ }).click();
  await page.getByRole('button', { name: 'One more: strings in parallel' }).click();
  await expect.poll(figure).toBeGreaterThan(before * 1.25);
  await saved(page);
  await page.keyboard.press('Control+z');
  await expect.poll(figure).toBe(before);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(figure).toBeGreaterThan(before * 1.25);
  await page.getByRole('button', { name: 'undo' }).click();
  await expect.poll(figure).toBe(before);
  await page.getByLabel('Units').click();
  await page.getByRole('option', { name: 'mi · lb · hp' }).click();
  await expect(range).toContainText(`${String(Math.round(before * 0.621371 * 10) / 10)}`);
  await expect(page.getByRole('list', { name: 'Power path from cell to tyre' })).toContainText('hp');
  await saved(page);
  await page.reload();
  await expect(range).toContainText('mi');
});

test('the wrong part is named, alternatives show what they would do, and variants compare', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/chain/B`);
  const stop = page.locator('[data-rule="volts.full-charge-over-controller"]');
  await expect(stop).toContainText('Full charge is 151.2 V; the controller maximum is 150 V.');
  await page.getByRole('button', { name: /^Controller/ }).click();
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  const better = page.getByRole('button', {
    name: 'Use Ness 168/650 inverter',
  });
  await expect(better).toContainText('+');
  await expect(better).toContainText('EUR');
  await expect(page.getByRole('button', { name: 'Use Ness 108/350 inverter' })).toContainText(
    'the controller maximum is 130 V',
  );
  await better.click();
  await expect(stop).toHaveCount(0);
  await page.getByRole('button', { name: 'copy B' }).click();
  await expect(page.getByRole('link', { name: 'Variant D' })).toHaveAttribute('aria-current', 'true');
  await page.getByRole('button', { name: 'variants' }).click();
  const table = page.getByRole('table', { name: 'Variants side by side' });
  await expect(table).toContainText('Ness 168/650 inverter');
  await expect(table).not.toContainText('Shearwater 22 induction');
  await page.getByRole('switch', { name: 'also what they share' }).click();
  await expect(table).toContainText('Shearwater 22 induction');
});

test('a design file opens, and a broken one is refused with words', async ({ empty, watched: page }) => {
  await page.goto(empty.url);
  const good = readFileSync(new URL('../../demo/pipit-b.json', import.meta.url), 'utf8');
  const file = (text: string) => ({
    name: 'design.json',
    mimeType: 'application/json',
    buffer: Buffer.from(text),
  });
  const input = page.getByLabel('Design file');
  await input.setInputFiles(file('{"half":'));
  await expect(page.getByRole('alert')).toContainText('not a JSON document');
  await input.setInputFiles(file(good.replace('"curb_mass_kg": 260', '"curb_mass_kg": -260')));
  await expect(page.getByRole('alert')).toContainText(
    'donor.curb_mass_kg is -260; a number from 10 to 40000 kg is accepted',
  );
  await input.setInputFiles(file(good));
  await expect(page.getByTestId('claim-range')).toContainText('km');

  // What is exported is what was opened, but for the name and the defaults now spelt out.
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'export' }).click();
  const exported = JSON.parse(readFileSync(await (await download).path(), 'utf8')) as Record<
    'donor' | 'design',
    Record<string, unknown>
  >;
  const opened = JSON.parse(good) as typeof exported;
  expect(exported.donor).toMatchObject(opened.donor);
  expect(exported.design).toMatchObject(opened.design);
});

test('a conversion leaves as one file with all its variants and comes back whole', async ({ demo, watched: page }) => {
  await page.goto(demo.url);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export Pipit, market trike' }).click();
  const file = await (await download).path();
  const exported = JSON.parse(readFileSync(file, 'utf8')) as {
    name: string;
    designs: { label: string }[];
  };
  expect([exported.name, ...exported.designs.map((d) => d.label)]).toEqual(['Pipit, market trike', 'A', 'B']);
  await page.getByLabel('Design file').setInputFiles({
    name: 'conversion.json',
    mimeType: 'application/json',
    buffer: readFileSync(file),
  });
  await expect(page.getByTestId('claim-range')).toContainText('km');
  const id = /\/c\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const again = (await (await fetch(`${demo.url}/api/v1/conversions/${id}/file`)).json()) as unknown;
  expect(again).toEqual(exported);
});
