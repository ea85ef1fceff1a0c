import { fileURLToPath } from 'node:url';
import { expect, test } from '../service.js';

const folder = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));

test('pictures of every main view', async ({ demo, page }) => {
  const id = await demo.find('Whimbrel');
  const shot = async (name: string, path: string, before?: () => Promise<void>) => {
    await page.goto(demo.url + path);
    await expect(page.getByText(/Loading|Computing …/)).toHaveCount(0);
    if (path !== '/') await expect(page.getByTestId('claim-range')).toBeVisible();
    await before?.();
    await page.waitForTimeout(400);
    await page.screenshot({ path: `${folder}${name}.png` });
  };
  await page.emulateMedia({ colorScheme: 'light' });
  await shot('list', '/');
  await shot('brief', `/c/${id}/brief/A`);
  await shot('donor', `/c/${id}/donor/A`);
  await shot('chain', `/c/${id}/chain/A`);
  await shot('chain-pack', `/c/${id}/chain/A`, async () => {
    await page.getByRole('button', { name: /^Pack/ }).click();
  });
  await shot('alternatives', `/c/${id}/chain/B`, async () => {
    await page.getByRole('button', { name: /^Controller/ }).click();
    await page.getByRole('button', { name: 'Exchange' }).click();
    await expect(page.getByRole('button', { name: 'Use Ness 156/500 inverter' })).toContainText('EUR');
  });
  await shot('charge', `/c/${id}/charge/A`);
  await shot('compare', `/c/${id}/compare/A`);
  await page.emulateMedia({ colorScheme: 'dark' });
  await shot('chain-dark', `/c/${id}/chain/B`);
});
