import { expect, type Service, test } from '../service.js';
import { report } from './report.js';

test('estimate over HTTP', async ({ demo }) => {
  const list = (await (await fetch(`${demo.url}/api/v1/conversions/${await demo.find('Whimbrel')}`)).json()) as {
    designs: { id: string }[];
  };
  const body = await (await fetch(`${demo.url}/api/v1/designs/${list.designs[0]?.id ?? ''}/document`)).text();
  const times: number[] = [];
  for (let i = 0; i < 60; i += 1) {
    const start = performance.now();
    const answer = await fetch(`${demo.url}/api/v1/estimate`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    await answer.arrayBuffer();
    if (i >= 10) times.push(performance.now() - start);
  }
  report('estimate request over HTTP (whimbrel-9-a, 4 trips)', times);
});

/** A conversion whose only trip is an hour as a logger wrote it, a reading a second. */
async function recordedHour(demo: { url: string; find: (name: string) => Promise<string> }): Promise<string> {
  const of = async (path: string, init?: RequestInit) =>
    (await (await fetch(demo.url + path, init)).json()) as Record<string, any>;
  const whole = await of(`/api/v1/conversions/${await demo.find('Whimbrel')}`);
  const document = await of(`/api/v1/designs/${String(whole['designs'][0].id)}/document`);
  const trace = Array.from({ length: 3600 }, (_, s) => ({
    time_s: s,
    speed_kmh: Math.max(0, 45 + 30 * Math.sin(s / 40) + 12 * Math.sin(s / 7)),
    grade_percent: 2 * Math.sin(s / 90),
  }));
  document['brief'].trips[0].path = { trace };
  const added = await of('/api/v1/conversions/import', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(document),
  });
  return String(added['id']);
}

declare global {
  interface Window {
    /** Does something and tells after how many milliseconds what is written at a place has changed and been painted. */
    untilPainted: (at: Element, act: () => void) => Promise<number>;
    rest: (ms: number) => Promise<void>;
  }
}

const watchPainting = () => {
  window.rest = (ms) => new Promise((r) => setTimeout(r, ms));
  window.untilPainted = (at, act) =>
    new Promise((resolve) => {
      const before = at.textContent;
      const start = performance.now();
      act();
      const look = () => {
        if (at.textContent === before) {
          requestAnimationFrame(look);
          return;
        }
        // A message sent within a frame arrives when that frame has been laid out and painted.
        const { port1, port2 } = new MessageChannel();
        port1.onmessage = () => {
          resolve(performance.now() - start);
        };
        port2.postMessage(0);
      };
      requestAnimationFrame(look);
    });
};

for (const [what, of] of [
  ['the demo van', (d: Service) => d.find('Whimbrel')],
  ['a recorded hour', recordedHour],
] as const)
  test(`from edit to repaint, ${what}`, async ({ demo, page }) => {
    await page.addInitScript(watchPainting);
    await page.goto(`${demo.url}/c/${await of(demo)}/chain/A`);
    await page.getByRole('button', { name: /^Pack/ }).click();
    await expect(page.getByTestId('claim-range')).toContainText('km');
    // What the counts make of the cells: told by the estimate, and another with each edit. The claims are painted with it.
    const run = ([labels, count, pause]: readonly [readonly string[], number, number]) =>
      page.evaluate(
        async ([labels, count, pause]) => {
          const cell = [...document.querySelectorAll('#link-sheet .figures')].find((e) =>
            e.textContent?.includes('cut-off'),
          );
          if (!cell) throw new Error('no figures of the pack');
          const results: number[] = [];
          for (let i = 0; i < count; i += 1) {
            const label = labels[i % labels.length] ?? '';
            const button = document.querySelector<HTMLButtonElement>(`[aria-label="${label}"]`);
            results.push(await window.untilPainted(cell, () => button?.click()));
            await window.rest(pause);
          }
          return results.slice(4);
        },
        [labels, count, pause] as const,
      );
    // The client keeps estimates by content, so every second edit is answered from memory; the first of each kind is not.
    const both = ['One more: strings in parallel', 'One fewer: strings in parallel'];
    report(`edit to repaint, ${what}, computed once and then remembered`, await run([both, 44, 60]));
    report(`edit to repaint, ${what}, every figure new`, await run([['One more: modules in series'], 28, 700]));
  });

test('from edit to repaint, electrics', async ({ demo, page }) => {
  await page.addInitScript(watchPainting);
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/electrics/A`);
  await expect(page.locator('[data-line="ready"]')).toBeVisible();
  const resistor = page
    .getByRole('region', { name: 'Contactors and precharge' })
    .getByRole('textbox', { name: 'Precharge resistor' });
  await expect(resistor).toBeVisible();
  const times = await resistor.evaluate(async (field) => {
    const line = document.querySelector('[data-line="ready"]');
    if (!line) throw new Error('no line');
    const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
    const results: number[] = [];
    for (let i = 0; i < 28; i += 1) {
      const type = () => {
        put?.call(field, `${String(60 + 7 * i)} Ω`);
        field.dispatchEvent(new Event('input', { bubbles: true }));
      };
      results.push(await window.untilPainted(line, type));
      await window.rest(700);
    }
    return results.slice(4);
  });
  report('edit to repaint, electrics with its drawing, every figure new', times);
});

test('first load of every stage', async ({ demo, browser }) => {
  const id = await demo.find('Whimbrel');
  const stages = ['brief', 'donor', 'match', 'chain', 'charge', 'electrics', 'layout', 'compare'].map(
    (s) => [s, `/c/${id}/${s}/A`] as const,
  );
  for (const [what, path] of [['list', '/'], ['library', '/library'], ...stages] as const) {
    // A browser that has seen nothing yet.
    const context = await browser.newContext();
    const page = await context.newPage();
    const client = await context.newCDPSession(page);
    await client.send('Network.enable');
    let bytes = 0;
    client.on('Network.loadingFinished', (e) => (bytes += e.encodedDataLength));
    const start = performance.now();
    await page.goto(demo.url + path);
    await page.waitForLoadState('networkidle');
    console.log(
      `first load of ${what}: ${(bytes / 1024).toFixed(0)} kB over the wire, fonts and data included, ${(performance.now() - start).toFixed(0)} ms to idle network`,
    );
    await context.close();
  }
});
