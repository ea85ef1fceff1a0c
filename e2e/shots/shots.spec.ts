import { fileURLToPath } from 'node:url';
import { expect, test } from '../service.js';

const folder = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));

test('pictures of every main view', async ({ demo, page }) => {
  const id = await demo.find('Whimbrel');
  const shot = async (name: string, path: string, before?: () => Promise<void>) => {
    await page.goto(demo.url + path);
    await expect(page.getByText(/Loading|Computing …/)).toHaveCount(0);
    if (path.startsWith('/c/')) await expect(page.getByTestId('claim-range')).toBeVisible();
    await before?.();
    await page.waitForTimeout(400);
    await page.screenshot({ path: `${folder}${name}.png` });
  };
  await page.emulateMedia({ colorScheme: 'light' });
  await shot('list', '/');
  await shot('brief', `/c/${id}/brief/A`);
  await shot('donor', `/c/${id}/donor/A`, async () => {
    const candidates = page.getByRole('region', { name: 'Candidates' });
    await expect(candidates).toContainText('a chain chosen for it');
    await expect(candidates).not.toContainText('a chain is being chosen');
  });
  const judged = () => expect(page.getByTestId('claim-range')).toContainText(/(not followed|[\d.]+) to [\d.]+/);
  await shot('trip', `/c/${id}/brief/A`, async () => {
    await judged();
    await page
      .getByRole('button', { name: /Look along it/ })
      .first()
      .click();
    await page.getByRole('table', { name: 'Summer and winter, gently and briskly' }).scrollIntoViewIfNeeded();
  });
  await shot('evidence', `/c/${id}/donor/A`, async () => {
    await judged();
    await page.getByRole('figure', { name: /Residuals/ }).scrollIntoViewIfNeeded();
  });
  await shot('match', `/c/${id}/match/A`, async () => {
    await page.getByRole('button', { name: 'search the library' }).click();
    await expect(page.getByRole('button', { name: 'search again' })).toBeVisible({ timeout: 90_000 });
  });
  // The answer stays while one moves within the workbench; a new page would search again.
  const still = async (name: string) => {
    await page.waitForTimeout(400);
    await page.screenshot({ path: `${folder}${name}.png` });
  };
  // The second drive, whatever its place among the designs.
  await page
    .getByTestId(/^match-\d+$/)
    .nth(1)
    .click();
  await page.getByRole('combobox', { name: 'Why not …' }).fill('Shearwater 18');
  await page.getByRole('option', { name: 'Shearwater 18 induction' }).click();
  await page.getByRole('button', { name: 'ask', exact: true }).click();
  await expect(page.getByText('Put into that design, all else as it is')).toBeVisible();
  await page.getByTestId('why-not').evaluate((e) => {
    e.scrollIntoView();
    document.querySelector('main')?.scrollBy(0, -50);
  });
  await still('match-why-not');
  await shot('library', '/library');
  await shot('chain', `/c/${id}/chain/A`, judged);
  await shot('tornado', `/c/${id}/chain/A`, async () => {
    await judged();
    await page.getByTestId('claim-range').click();
    await expect(page.getByRole('region', { name: 'What to measure' })).toBeVisible();
  });
  await shot('why', `/c/${id}/chain/A`, async () => {
    await judged();
    await page.getByTestId('claim-range').click();
    await page.getByRole('tab', { name: 'Why this number' }).click();
    await page.getByRole('button', { name: 'Open usable energy' }).click();
  });
  await shot('choices', `/c/${await demo.find('Wren')}/chain/A`, async () => {
    await expect(page.getByRole('table', { name: 'Locked or shifting' })).toBeVisible();
    await page.getByRole('region', { name: 'Headline figures' }).scrollIntoViewIfNeeded();
    await page.evaluate(() => document.querySelector('main')?.scrollBy(0, 330));
  });
  await shot('alternatives', `/c/${id}/chain/B`, async () => {
    await page.getByRole('button', { name: /^Controller/ }).click();
    await page.getByRole('button', { name: 'Change', exact: true }).click();
    await expect(page.getByRole('button', { name: 'Use Ness 156/500 inverter' })).toContainText('EUR');
    await expect(page.getByRole('progressbar', { name: 'Computing what each part would do' })).toBeHidden();
  });
  await shot('charge', `/c/${id}/charge/A`, () => expect(page.getByTestId('week-winter')).toContainText('short'));
  await shot('electrics', `/c/${id}/electrics/A`, async () => {
    await judged();
    await expect(page.getByRole('figure', { name: /Fuse, cable and load/ })).toBeVisible();
    await page.evaluate(() => document.querySelector('main')?.scrollBy(0, 110));
  });
  await shot('layout', `/c/${id}/layout/A`, async () => {
    await judged();
    await page.locator('[data-block="side:design.layout.pack"]').click();
  });
  await shot('compare', `/c/${id}/compare/A`, async () => {
    await expect(page.getByRole('row', { name: /Winter bakery rounds/ }).getByText(/ to /)).toHaveCount(3);
  });
  await page.emulateMedia({ colorScheme: 'dark' });
  await shot('chain-dark', `/c/${id}/chain/B`);
  // Last, since the list has one more from here on.
  await page.emulateMedia({ colorScheme: 'light' });
  await page.goto(demo.url);
  await page.getByRole('button', { name: 'New conversion' }).click();
  await page.getByLabel('Name of the vehicle').fill('Whimbrel 4, the baker’s car');
  await page.getByRole('textbox', { name: 'Fastest road' }).fill('60');
  await page.getByRole('textbox', { name: 'Steepest hill' }).fill('14');
  await page.getByRole('button', { name: 'Propose a chain' }).click();
  await expect(page.getByRole('region', { name: 'Proposed chain' })).toBeVisible();
  await judged();
  await still('proposed');
});
