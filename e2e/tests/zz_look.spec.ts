import { test } from '../service.js';

test('look', async ({ demo, page }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/brief/A`);
  const drives = page.getByRole('group', { name: /Measured drives of/ }).nth(0);
  await drives.getByRole('button', { name: 'Add a measured drive' }).click();
  await drives.getByLabel('When, by whom').fill('January, baker and bread');
  await drives.getByLabel('Driven').fill('30');
  await drives.getByLabel('Charge it took').fill('62 %');
  await drives.getByLabel('Air temperature').fill('1');
  await drives.getByText('more than predicted').waitFor();
  await drives.scrollIntoViewIfNeeded();
  await page.screenshot({ path: '/tmp/w/look1.png' });
  await page.getByRole('table', { name: 'What the trips come to' }).scrollIntoViewIfNeeded();
  await page.screenshot({ path: '/tmp/w/look2.png' });
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/brief/A`);
  await page.getByRole('table', { name: 'What the trips come to' }).scrollIntoViewIfNeeded();
  await page.screenshot({ path: '/tmp/w/look3.png' });
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/A`);
  const e = page.getByRole('region', { name: 'Evidence for the road load' });
  await e.getByLabel('Fuel used in town').fill('12');
  await e.getByLabel('Fuel used on the open road').fill('4');
  await page.waitForTimeout(800);
  await e.scrollIntoViewIfNeeded();
  await page.screenshot({ path: '/tmp/w/look4.png' });
});
