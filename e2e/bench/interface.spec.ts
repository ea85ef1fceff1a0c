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

for (const [what, of] of [
  ['the demo van', (d: Service) => d.find('Whimbrel')],
  ['a recorded hour', recordedHour],
] as const)
  test(`from edit to repaint, ${what}`, async ({ demo, page }) => {
    await page.goto(`${demo.url}/c/${await of(demo)}/chain/A`);
    await page.getByRole('button', { name: /^Pack/ }).click();
    await expect(page.getByTestId('claim-range')).toContainText('km');
    const times = await page.evaluate(async () => {
      // What the counts make of the cells: told by the estimate, and another with each edit. The claims are painted with it.
      const cell = [...document.querySelectorAll('#link-sheet .figures')].find((e) =>
        e.textContent?.includes('cut-off'),
      );
      if (!cell) throw new Error('no figures of the pack');
      const button = (label: string) => document.querySelector<HTMLButtonElement>(`[aria-label="${label}"]`);
      const results: number[] = [];
      for (let i = 0; i < 44; i += 1) {
        const before = cell.textContent;
        const start = performance.now();
        button(i % 2 === 0 ? 'One more: strings in parallel' : 'One fewer: strings in parallel')?.click();
        await new Promise<void>((resolve) => {
          const look = () => {
            // Two frames after the change it has been painted.
            if (cell.textContent === before) requestAnimationFrame(look);
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
    report(`edit to repaint, ${what}, computed once and then remembered`, times);
    const fresh = await page.evaluate(async () => {
      const cell = [...document.querySelectorAll('#link-sheet .figures')].find((e) =>
        e.textContent?.includes('cut-off'),
      );
      if (!cell) throw new Error('no figures of the pack');
      const more = document.querySelector<HTMLButtonElement>('[aria-label="One more: modules in series"]');
      const results: number[] = [];
      for (let i = 0; i < 24; i += 1) {
        const before = cell.textContent;
        const start = performance.now();
        more?.click();
        await new Promise<void>((resolve) => {
          const look = () => {
            if (cell.textContent === before) requestAnimationFrame(look);
            else requestAnimationFrame(() => resolve());
          };
          requestAnimationFrame(look);
        });
        results.push(performance.now() - start);
        await new Promise((r) => setTimeout(r, 500));
      }
      return results;
    });
    report(`edit to repaint, ${what}, every figure new`, fresh);
  });

test('from edit to repaint, electrics', async ({ demo, page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/electrics/A`);
  await expect(page.locator('[data-line="ready"]')).toBeVisible();
  await expect(
    page.getByRole('region', { name: 'Contactors and precharge' }).getByLabel('Precharge resistor'),
  ).toBeVisible();
  const times = await page.evaluate(async () => {
    const region = [...document.querySelectorAll('section, [role="region"]')].find(
      (r) => r.getAttribute('aria-label') === 'Contactors and precharge',
    );
    const labels = [...(region ?? document).querySelectorAll('label')];
    const id = labels.find((l) => (l.textContent ?? '').startsWith('Precharge resistor'))?.htmlFor ?? '';
    const field = document.getElementById(id) as HTMLInputElement | null;
    const line = document.querySelector('[data-line="ready"]');
    if (!field || !line) throw new Error('no field or no line');
    const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
    const results: number[] = [];
    for (let i = 0; i < 28; i += 1) {
      const before = line.textContent;
      const start = performance.now();
      put?.call(field, `${String(60 + 7 * i)} Ω`);
      field.dispatchEvent(new Event('input', { bubbles: true }));
      await new Promise<void>((resolve) => {
        const look = () => {
          if (line.textContent === before) requestAnimationFrame(look);
          else requestAnimationFrame(() => resolve());
        };
        requestAnimationFrame(look);
      });
      if (i >= 4) results.push(performance.now() - start);
      await new Promise((r) => setTimeout(r, 500));
    }
    return results;
  });
  report('edit to repaint, electrics with its drawing, every figure new', times);
});

test('first load of every stage', async ({ demo, browser }) => {
  const id = await demo.find('Whimbrel');
  const stages = ['brief', 'donor', 'match', 'chain', 'charge', 'electrics', 'compare'].map(
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
