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
  for (const stage of ['brief', 'donor', 'match', 'chain', 'charge', 'electrics', 'layout', 'compare']) {
    // A browser that has seen nothing yet.
    const context = await browser.newContext();
    const page = await context.newPage();
    const paths = new Set<string>();
    page.on('response', (answer) => {
      const { pathname } = new URL(answer.url());
      if (pathname.startsWith('/assets/')) paths.add(pathname);
    });
    await page.goto(`${demo.url}/c/${id}/${stage}/A`);
    await page.waitForLoadState('networkidle');
    loads[stage] = [...paths].reduce((sum, path) => sum + carried(path), 0);
    await context.close();
  }
  for (const [stage, bytes] of Object.entries(loads)) {
    expect(bytes, `${stage}, of ${JSON.stringify(loads)}`).toBeGreaterThan(150_000);
    expect(bytes, `${stage}, of ${JSON.stringify(loads)}`).toBeLessThanOrEqual(300_000);
  }
});
