import { existsSync, statSync } from 'node:fs';
import { expect, test } from '../service.js';

const built = new URL('../../web/dist', import.meta.url).pathname;

/** Of a stored file what travels to a browser that takes Brotli, bytes. */
const carried = (path: string) => {
  const file = built + path;
  return statSync(existsSync(`${file}.br`) ? `${file}.br` : file).size;
};

test('the first load of every stage, scripts, styles and fonts together, is within 300 kB', async ({
  demo,
  browser,
}) => {
  const id = await demo.find('Whimbrel');
  const loads: Record<string, number> = {};
  const stages = ['brief', 'donor', 'match', 'chain', 'charge', 'electrics', 'layout', 'compare'];
  for (const place of ['/', '/library', ...stages.map((stage) => `/c/${id}/${stage}/A`)]) {
    // A browser that has seen nothing yet.
    const context = await browser.newContext();
    const page = await context.newPage();
    const paths = new Set<string>();
    page.on('response', (answer) => {
      const { pathname } = new URL(answer.url());
      if (pathname.startsWith('/assets/')) paths.add(pathname);
    });
    await page.goto(demo.url + place);
    // A slow machine is quiet for a while between one script and the next.
    await expect(page.getByRole('main').getByRole('heading').first()).toBeVisible();
    await expect(page.getByText(/^Loading /)).toHaveCount(0);
    await page.waitForLoadState('networkidle');
    loads[place] = [...paths].reduce((sum, path) => sum + carried(path), 0);
    await context.close();
  }
  for (const [place, bytes] of Object.entries(loads)) {
    expect(bytes, `${place}, of ${JSON.stringify(loads)}`).toBeGreaterThan(150_000);
    expect(bytes, `${place}, of ${JSON.stringify(loads)}`).toBeLessThanOrEqual(300_000);
  }
});
