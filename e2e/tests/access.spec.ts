import { seriousFindings } from '../access.js';
import { expect, test } from '../service.js';

const views: [string, (whimbrel: string, pipit: string) => string[]][] = [
  [
    'from the list to the match',
    (id, trike) => ['/', '/library', `/c/${id}/brief/A`, `/c/${id}/donor/A`, `/c/${trike}/match/B`],
  ],
  [
    'from the chain to the comparison',
    (id) => ['chain/B', 'charge/A', 'electrics/A', 'layout/A', 'compare/A'].map((at) => `/c/${id}/${at}`),
  ],
];
for (const [which, paths] of views) {
  test(`no serious accessibility finding on any view, light or dark: ${which}`, async ({ demo, watched: page }) => {
    for (const path of paths(await demo.find('Whimbrel'), await demo.find('Pipit'))) {
      await page.emulateMedia({ colorScheme: 'light' });
      await page.goto(demo.url + path);
      await expect(page.getByText(/Loading|Computing …/)).toHaveCount(0);
      if (path.startsWith('/c/')) await expect(page.getByTestId('claim-range')).toBeVisible();
      if (path.includes('chain')) {
        await page.getByRole('button', { name: /^Pack/ }).click();
        await expect(page.getByRole('region', { name: 'Pack, details' })).toBeVisible();
      }
      if (path.includes('match')) {
        await page.getByRole('button', { name: 'Constraints' }).click();
        await page.getByRole('button', { name: 'search the library' }).click();
        await expect(page.getByRole('button', { name: 'search again' })).toBeVisible({ timeout: 60_000 });
        await page.getByTestId('match-1').click();
      }
      // What is being worked out anew is dimmed until it is there.
      await expect(page.locator('[aria-busy="true"]')).toHaveCount(0);
      // A label that is cut off says half of what is asked.
      const cut = page.locator('label').evaluateAll((all) => {
        const short = all.filter((e) => e.clientWidth > 0 && e.scrollWidth > e.clientWidth + 1);
        return short.map((e) => e.textContent);
      });
      expect(await cut, path).toEqual([]);
      const background = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
      expect(await seriousFindings(page, `${path}, light`)).toEqual([]);
      const light = await background();
      // Of all that is looked at, colours alone change with the scheme.
      await page.emulateMedia({ colorScheme: 'dark' });
      await expect.poll(background).not.toBe(light);
      expect(await seriousFindings(page, `${path}, dark`, 'color-contrast')).toEqual([]);
    }
  });
}

test('everything by keyboard: stage, variant, link, exchange of a part', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/brief/A`);
  await expect(page.getByTestId('claim-range')).toBeVisible();
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/chain\/A$/);
  await page.keyboard.press(']');
  await expect(page).toHaveURL(/chain\/B$/);
  const motor = page.getByRole('button', { name: /^Motor/ });
  for (let i = 0; i < 60 && !(await motor.evaluate((e) => e === document.activeElement)); i += 1)
    await page.keyboard.press('Tab');
  await expect(motor).toBeFocused();
  await page.keyboard.press('Enter');
  const exchange = page.getByRole('button', { name: 'Change', exact: true });
  await exchange.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Search parts' })).toBeFocused();
  await page.keyboard.type('Shearwater 34');
  const pick = page.getByRole('button', {
    name: 'Use Shearwater 34 induction',
  });
  // Who wrote a name finds that part first, behind the filters.
  await expect(page.getByRole('button', { name: /^Use / }).first()).toHaveAccessibleName(/Shearwater 34/);
  for (let i = 0; i < 8 && !(await pick.evaluate((e) => e === document.activeElement)); i += 1)
    await page.keyboard.press('Tab');
  await expect(pick).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Motor Shearwater 34/ })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
});

for (const [what, width, height] of [
  ['a phone', 390, 844],
  ['a small window, as at twice the size', 640, 400],
] as const) {
  test(`every control is within reach on ${what}`, async ({ demo, watched: page }) => {
    await page.setViewportSize({ width, height });
    const id = await demo.find('Whimbrel');
    const found: string[] = [];
    const stages = ['brief', 'donor', 'match', 'chain', 'charge', 'electrics', 'layout', 'compare'].map(
      (s) => `/c/${id}/${s}/A`,
    );
    for (const path of ['/', '/library', ...stages]) {
      await page.goto(demo.url + path);
      await expect(page.getByText(/Loading|Computing …/)).toHaveCount(0);
      if (path.startsWith('/c/')) await expect(page.getByTestId('claim-range')).toBeVisible();
      if (path === '/library') await expect(page.getByRole('table', { name: 'Motors' })).toBeVisible();
      const out = await page.evaluate(() => {
        const scrolls = (e: Element | null): boolean =>
          e !== null && (/auto|scroll/.test(getComputedStyle(e).overflowX) || scrolls(e.parentElement));
        const clipped = [...document.querySelectorAll('button, a, input, select, textarea, [role="button"]')].filter(
          (e) => {
            const box = e.getBoundingClientRect();
            const hidden =
              e.getAttribute('aria-hidden') === 'true' ||
              // The unseen input of a switch is wider than the switch.
              getComputedStyle(e).opacity === '0' ||
              box.width === 0 ||
              box.height === 0 ||
              getComputedStyle(e).visibility === 'hidden';
            return !hidden && (box.right > window.innerWidth + 1 || box.left < -1) && !scrolls(e.parentElement);
          },
        );
        return {
          sideways: document.documentElement.scrollWidth - window.innerWidth,
          // What scrolls sideways as a whole page would.
          main: [...document.querySelectorAll('main')].map((m) => m.scrollWidth - m.clientWidth),
          above: document.querySelector('main')?.getBoundingClientRect().top ?? 0,
          clipped: clipped.map((e) => e.getAttribute('aria-label') ?? e.textContent),
        };
      });
      if (out.sideways > 0 || out.main.some((m) => m > 0))
        found.push(`${path} scrolls sideways: ${JSON.stringify(out)}`);
      if (out.clipped.length > 0) found.push(`${path} cuts off ${out.clipped.join(', ')}`);
      if (path.startsWith('/c/') && width === 390 && out.above > 110)
        found.push(`${path} keeps ${String(out.above)} px`);
    }
    expect(found).toEqual([]);
    // What the narrow bar leaves out is in its menu.
    await page.goto(`${demo.url}/c/${id}/chain/A`);
    await page.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: /mi · lb · hp/ }).click();
    await expect(page.getByTestId('claim-range')).toContainText('mi');
    await page.getByRole('button', { name: 'undo' }).click();
    await expect(page.getByTestId('claim-range')).toContainText('km');
  });
}

test('a long press on a choice list opens it and chooses nothing, where it opens over its field too', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/layout/A`);
  const put = page.getByRole('region', { name: 'Everything else put in' });
  const sits = put.getByLabel('It sits').last();
  const before = await sits.textContent();
  // Near the lower edge, so that the list has no room below its field.
  await sits.evaluate((e) => {
    (e as HTMLElement).style.scrollMarginBottom = '80px';
    e.scrollIntoView({ block: 'end' });
  });
  const box = await sits.boundingBox();
  if (!box) throw new Error('not drawn');
  await page.mouse.move(box.x + 20, box.y + box.height / 2);
  await page.mouse.down();
  const options = page.getByRole('option');
  await expect(options.first()).toBeVisible();
  const under = () =>
    page.evaluate(([x, y]) => document.elementFromPoint(x, y)?.closest('[role="option"]')?.textContent ?? null, [
      box.x + 20,
      box.y + box.height / 2,
    ] as const);
  await expect.poll(under).not.toBeNull();
  // Longer than any click takes.
  await page.waitForTimeout(600);
  await page.mouse.up();
  await expect(options.first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(sits).toHaveText(before ?? '');
  // A click on an option chooses it.
  await sits.click();
  await options.nth(1).click();
  await expect(options).toHaveCount(0);
  await expect(sits).not.toHaveText(before ?? '');
});
