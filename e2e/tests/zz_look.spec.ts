import { expect, test } from '../service.js';
test('look', async ({ demo, page }) => {
  const id = await demo.find('Whimbrel');
  for (const [path, w, h] of [
    ['/', 390, 844],
    ['/library', 390, 844],
    [`/c/${id}/brief/A`, 390, 844],
    [`/c/${id}/charge/A`, 390, 844],
    [`/c/${id}/donor/A`, 640, 400],
    ['/', 640, 400],
  ] as const) {
    await page.setViewportSize({ width: w, height: h });
    await page.goto(demo.url + path);
    await page.waitForTimeout(1500);
    const out = await page.evaluate(() => {
      const main = document.querySelector('main');
      const right = main ? main.getBoundingClientRect().right : innerWidth;
      const scrolls = (e: Element | null): boolean =>
        e !== null &&
        e.tagName !== 'MAIN' &&
        (/auto|scroll/.test(getComputedStyle(e).overflowX) || scrolls(e.parentElement));
      return [...document.querySelectorAll('body *')]
        .filter(
          (e) =>
            e.getBoundingClientRect().right > right + 1 &&
            !scrolls(e.parentElement) &&
            e.getBoundingClientRect().width > 0,
        )
        .slice(0, 8)
        .map(
          (e) =>
            `${e.tagName} ${e.className} ${e.textContent?.slice(0, 30)} ${Math.round(e.getBoundingClientRect().left)}..${Math.round(e.getBoundingClientRect().right)}`,
        );
    });
    console.log(path, w, JSON.stringify(out, null, 1));
  }
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(demo.url);
  await page.waitForTimeout(1500);
  await page.screenshot({ path: '/tmp/w/look/list-phone.png' });
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.waitForTimeout(500);
  await page.screenshot({ path: '/tmp/w/look/list.png' });
  await page.goto(`${demo.url}/c/${id}/chain/A`);
  await page.getByRole('button', { name: /^Motor/ }).click();
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  await page.getByRole('button', { name: 'Own part …' }).click();
  await page.waitForTimeout(800);
  await page.screenshot({ path: '/tmp/w/look/own.png' });
  expect(1).toBe(1);
});
