import { gzipSync } from 'node:zlib';
import { expect, test } from '../service.js';
import { report } from './report.js';

test('estimate over HTTP', async ({ demo }) => {
  const list = (await (await fetch(`${demo.url}/api/v1/conversions/${await demo.find('Whimbrel')}`)).json()) as { designs: { id: string }[] };
  const body = await (await fetch(`${demo.url}/api/v1/designs/${list.designs[0]?.id ?? ''}/document`)).text();
  const times: number[] = [];
  for (let i = 0; i < 60; i += 1) {
    const start = performance.now();
    const answer = await fetch(`${demo.url}/api/v1/estimate`, { method: 'POST', headers: { 'content-type': 'application/json' }, body });
    await answer.arrayBuffer();
    if (i >= 10) times.push(performance.now() - start);
  }
  report('estimate request over HTTP (whimbrel-9-a, 4 trips)', times);
});

test('from edit to repaint', async ({ demo, page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/chain/A`);
  await page.getByRole('button', { name: /^Pack/ }).click();
  await expect(page.getByTestId('claim-range')).toContainText('km');
  const times = await page.evaluate(async () => {
    const cell = document.querySelector('[data-testid="claim-range"]');
    const button = (label: string) => document.querySelector<HTMLButtonElement>(`[aria-label="${label}"]`);
    const results: number[] = [];
    for (let i = 0; i < 44; i += 1) {
      const before = cell?.textContent;
      const start = performance.now();
      button(i % 2 === 0 ? 'One more: strings in parallel' : 'One fewer: strings in parallel')?.click();
      await new Promise<void>((resolve) => {
        const look = () => {
          // Two frames after the change it has been painted.
          if (cell?.textContent === before) requestAnimationFrame(look);
          else requestAnimationFrame(() => resolve());
        };
        requestAnimationFrame(look);
      });
      if (i >= 4) results.push(performance.now() - start);
      await new Promise((r) => setTimeout(r, 60));
    }
    return results;
  });
  // The client keeps estimates by content, so every second edit is answered from memory; the first of each kind is not.
  report('edit to repaint, computed once and then remembered', times);
  const fresh = await page.evaluate(async () => {
    const cell = document.querySelector('[data-testid="claim-range"]');
    const more = document.querySelector<HTMLButtonElement>('[aria-label="One more: modules in series"]');
    const results: number[] = [];
    for (let i = 0; i < 24; i += 1) {
      const before = cell?.textContent;
      const start = performance.now();
      more?.click();
      await new Promise<void>((resolve) => {
        const look = () => {
          if (cell?.textContent === before) requestAnimationFrame(look);
          else requestAnimationFrame(() => resolve());
        };
        requestAnimationFrame(look);
      });
      results.push(performance.now() - start);
      await new Promise((r) => setTimeout(r, 500));
    }
    return results;
  });
  report('edit to repaint, every figure new', fresh);
});

test('first load', async ({ demo, page }) => {
  for (const [what, path] of [['list', '/'], ['chain stage', `/c/${await demo.find('Whimbrel')}/chain/A`]] as const) {
    let bytes = 0;
    const scripts: Promise<void>[] = [];
    page.on('response', (r) => {
      if (r.url().endsWith('.js')) scripts.push(r.body().then((b) => void (bytes += gzipSync(b).length)));
    });
    const start = performance.now();
    await page.goto(demo.url + path);
    await page.waitForLoadState('networkidle');
    await Promise.all(scripts);
    console.log(`first load of the ${what}: ${(bytes / 1024).toFixed(0)} kB of compressed script, ${(performance.now() - start).toFixed(0)} ms to idle network`);
    page.removeAllListeners('response');
  }
});
