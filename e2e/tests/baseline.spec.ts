import { laidUnder } from '../../web/src/stages/layout/laidUnder.js';
import { expect, saved, test } from '../service.js';

/** A photograph as a camera's file: drawn in the page, since no picture of a real vehicle ships with the tests. */
async function photograph(page: import('@playwright/test').Page): Promise<Buffer> {
  const url = await page.evaluate(() => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [2400, 1600];
    const pen = canvas.getContext('2d');
    if (!pen) throw new Error('no canvas');
    pen.fillStyle = '#9db4c0';
    pen.fillRect(0, 0, 2400, 1600);
    pen.fillStyle = '#333';
    for (const x of [600, 1800]) {
      pen.beginPath();
      pen.arc(x, 1200, 150, 0, 7);
      pen.fill();
    }
    return canvas.toDataURL('image/jpeg');
  });
  return Buffer.from(url.split(',')[1] ?? '', 'base64');
}

test('photographs are added, captioned and laid under the drawing by two wheels; what is none is said', async ({
  demo,
  watched: page,
}) => {
  const id = await demo.find('Pipit');
  await page.goto(`${demo.url}/c/${id}/donor/A`);
  const section = page.getByRole('region', { name: 'Photographs' });
  await expect(section).toContainText('Wiring before it is cut');
  const input = section.locator('input[type=file]');
  await input.setInputFiles([
    { name: 'left side.jpg', mimeType: 'image/jpeg', buffer: await photograph(page) },
    { name: 'notes.png', mimeType: 'image/png', buffer: Buffer.from('no picture at all') },
  ]);
  await expect(section.getByRole('alert')).toContainText('notes.png: no photograph this browser can read');
  const one = section.getByTestId('photograph');
  await expect(one).toHaveCount(1);
  await one.getByLabel('Caption').fill('From the left');
  await one.getByLabel('Caption').blur();
  await expect(one.getByRole('img')).toHaveAttribute('alt', 'From the left');
  await one.getByLabel('Shows').click();
  await page.getByRole('option').nth(1).click();
  await page.reload();
  await expect(one.getByLabel('Caption')).toHaveValue('From the left');

  await page.goto(`${demo.url}/c/${id}/layout/A`);
  const under = page.getByRole('region', { name: 'Photograph under the drawing' });
  await under.getByLabel('Under the view from the side').click();
  await page.getByRole('option', { name: 'From the left' }).click();
  const drawn = page.getByTestId('underlay-side');
  await expect(drawn).toBeVisible();
  // The wheels were drawn at a quarter and at three quarters, three quarters down.
  const picture = under.getByRole('img', { name: 'From the left' });
  const box = await picture.boundingBox();
  if (!box) throw new Error('no picture');
  for (const share of [0.25, 0.75]) await picture.click({ position: { x: share * box.width, y: 0.75 * box.height } });
  await expect(under.getByLabel('Front wheel, from the left')).toHaveValue(/^0\.2[45]/);
  await expect(under.getByLabel('Rear wheel, from the left')).toHaveValue(/^0\.7[45]/);
  await saved(page);
  // On the drawing they lie on the wheels.
  const [a = 0] = ((await drawn.getAttribute('transform')) ?? '').match(/-?[\d.]+/g)?.map(Number) ?? [];
  const hubs = await page
    .getByTestId('layout-drawing')
    .locator('circle[r="2"]')
    .evaluateAll((all) => all.map((c) => Number(c.getAttribute('cx'))));
  expect(a * 0.5).toBeCloseTo((hubs[1] ?? 0) - (hubs[0] ?? 0), -0.5);
  await under.getByRole('button', { name: 'Take it away' }).click();
  await expect(drawn).toHaveCount(0);

  // Gone for good only when asked twice.
  await page.goto(`${demo.url}/c/${id}/donor/A`);
  await one.getByRole('button', { name: 'Remove' }).click();
  await expect(one).toHaveCount(1);
  await one.getByRole('button', { name: 'Remove for good' }).click();
  await expect(one).toHaveCount(0);
});

test('a drawing as SVG is kept as a picture: what it would run or fetch stays behind', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/donor/A`);
  const section = page.getByRole('region', { name: 'Photographs' });
  const asked: string[] = [];
  page.on('request', (request) => asked.push(request.url()));
  const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100" viewBox="0 0 200 100">
    <script>fetch('/ran')</script><image href="http://127.0.0.1:9/fetched.png" width="10" height="10"/>
    <circle cx="50" cy="75" r="12"/><circle cx="150" cy="75" r="12" onload="fetch('/ran')"/></svg>`;
  await section.locator('input[type=file]').setInputFiles([
    { name: 'outline.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(drawing) },
    { name: 'half.svg', mimeType: 'image/svg+xml', buffer: Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"') },
  ]);
  await expect(section.getByRole('alert')).toContainText('half.svg: no photograph this browser can read');
  const one = section.getByTestId('photograph');
  await expect(one).toHaveCount(1);
  const kept = await page.evaluate(
    async (source) => {
      const answer = await fetch((source ?? '').replace('?small=true', ''));
      const picture = await createImageBitmap(await answer.blob());
      return [answer.headers.get('content-type'), picture.width, picture.height];
    },
    await one.getByRole('img').getAttribute('src'),
  );
  expect(kept).toEqual(['image/jpeg', 1800, 900]);
  expect(asked.filter((url) => url.includes('ran') || url.includes('fetched'))).toEqual([]);
});

test('two points of a picture fall on two points of the drawing, from either side', () => {
  const at = (m: number[], u: number, v: number) => [
    (m[0] ?? 0) * u + (m[2] ?? 0) * v + (m[4] ?? 0),
    (m[1] ?? 0) * u + (m[3] ?? 0) * v + (m[5] ?? 0),
  ];
  for (const [front, rear] of [
    [
      [0.2, 0.7],
      [0.8, 0.74],
    ],
    [
      [0.9, 0.6],
      [0.3, 0.65],
    ],
  ] as const) {
    const under = {
      photograph: 'x',
      front_across: front[0],
      front_down: front[1],
      rear_across: rear[0],
      rear_down: rear[1],
    };
    const m = laidUnder(under, 0.6, [100, 300], [420, 300]) ?? [];
    const [f, r] = [at(m, front[0], 0.6 * front[1]), at(m, rear[0], 0.6 * rear[1])];
    [f[0], f[1], r[0], r[1]].forEach((x, i) => {
      expect(x).toBeCloseTo([100, 300, 420, 300][i] ?? 0, 6);
    });
    // What stands above the wheels in the picture stands above them in the drawing.
    expect(at(m, front[0], 0.6 * front[1] - 0.1)[1]).toBeLessThan(300);
  }
  const same = { photograph: 'x', front_across: 0.5, front_down: 0.5, rear_across: 0.5, rear_down: 0.5 };
  expect(laidUnder(same, 0.6, [0, 0], [1, 0])).toBeNull();
});

test('a log of the network names what falls silent; marked as needed, it is found; garbage is named by its line', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/B`);
  const section = page.getByRole('region', { name: 'Its own network' });
  await section.getByRole('button', { name: 'Listen to the simulated network' }).click();
  await expect(section).toContainText('7 messages, 2 fall silent with the engine’s unit: EngineState, FuelState.');
  const engine = section.getByTestId('message-0C4');
  await expect(engine).toContainText('missed by BRAKES, DASH');
  await expect(engine).toContainText('10 ms');
  await expect(engine.getByRole('img', { name: '8 bytes, 0, 1, 2, 3, 6, 7 change' })).toBeVisible();
  await engine.getByLabel('What needs EngineState').click();
  await page.getByRole('option', { name: 'gauges' }).click();
  await page.keyboard.press('Escape');
  await expect(section).toContainText('1 of them is needed: something must send it in its period.');
  await section.getByRole('switch', { name: 'STEERING' }).check();
  await expect(section.getByTestId('message-142')).toContainText('falls silent');
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(page.getByRole('main')).toContainText(
    "EngineState (0x0C4) falls silent with the engine's unit; the gauges need it.",
  );
  await page.goBack();

  // A log of one's own, of which one line is none.
  const log = '(1.0) can0 3B6#00\n(1.5) can0 3B6#01\nhalf a line\n';
  const file = { name: 'drive.log', mimeType: 'text/plain', buffer: Buffer.from(log) };
  await page.reload();
  await section.locator('input[type=file]').first().setInputFiles(file);
  await expect(section.getByRole('alert')).toContainText('log, line 3 is "half a line"');
  await expect(section).toContainText('7 messages');
  await section.getByRole('button', { name: 'Leave such lines out' }).click();
  await expect(section).toContainText('1 message');
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(section).toContainText('7 messages');
});

test('three passes by the clock stand beside the conversion and become a goal', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/B`);
  const section = page.getByRole('region', { name: 'By the clock' });
  await section.getByRole('button', { name: 'Add a pass' }).click();
  const pass = section.getByTestId('pass-0');
  await pass.getByLabel('To', { exact: true }).fill('60');
  for (const [i, seconds] of ['14.2', '14.6', '14.4 s'].entries()) {
    await pass.getByRole('button', { name: 'Add a run' }).click();
    await pass.getByLabel('Took').nth(i).fill(seconds);
    if (i === 0) await expect(pass).toContainText('1 of the 3 runs that tell a time');
  }
  await expect(pass).toContainText('14.4 s ± 0.34 s as it was; the conversion takes');
  await expect(pass).toContainText('no slower');
  await pass.getByLabel('From').fill('80');
  await expect(page.getByRole('main')).toContainText('a speed above the 80 km/h it begins with is accepted');
  await pass.getByLabel('From').fill('0');
  await pass.getByRole('button', { name: 'Ask for no less' }).click();
  await expect(page.getByTestId('claim-as-it-was-8')).toContainText('As quick as it was');
  await saved(page);
});

test('names from a file of one’s own are held against the log; too much is refused, and what is forgotten comes back', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/donor/A`);
  const section = page.getByRole('region', { name: 'Its own network' });
  const files = section.locator('input[type=file]');
  const [log, names] = [files.nth(0), files.nth(2)];
  const file = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  const dbc = [
    'VERSION ""',
    '',
    'BU_: MOTOR PANEL',
    '',
    'BO_ 256 Speed: 2 MOTOR',
    ' SG_ Wheel : 7|16@0+ (0.01,0) [0|300] "km/h"  PANEL',
    '',
  ].join('\n');
  await names.setInputFiles(file('own.dbc', dbc));
  await expect(page.getByText('Kept for the log: read that next.')).toBeVisible();
  await log.setInputFiles(file('own.log', '(1.00) can0 100#0000\n(1.02) can0 100#1388\n(1.04) can0 100#0BB8\n'));
  const message = section.getByTestId('message-100');
  await expect(message).toContainText('Speed');
  await expect(message).toContainText('20 ms');
  await expect(message).toContainText('Wheel 0 to 50 km/h');
  await section.getByRole('switch', { name: 'MOTOR' }).check();
  await expect(message).toContainText('missed by PANEL');
  await log.setInputFiles(file('long.log', 'x'.repeat(9 * 1024 * 1024)));
  await expect(page.getByText('long.log has 9.0 MB; up to 8 MB are accepted.')).toBeVisible();
  await names.setInputFiles(file('broken.dbc', 'this is no description\n'));
  await expect(section.getByRole('alert')).toContainText('dbc is not readable from line 1 on');
  await expect(message).toContainText('Speed');
  await section.getByRole('button', { name: 'Forget it' }).click();
  await expect(section).toContainText('Listen to the simulated network');
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(message).toContainText('missed by PANEL');
  await saved(page);
});

test('a photograph too large is said so, and an empty candidate list teaches', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Dunlin')}/donor/A`);
  const photographs = page.getByRole('region', { name: 'Photographs' });
  await photographs
    .locator('input[type=file]')
    .setInputFiles([{ name: 'huge.jpg', mimeType: 'image/jpeg', buffer: Buffer.alloc(41 * 1024 * 1024) }]);
  await expect(photographs.getByRole('alert')).toContainText('huge.jpg: 41 MB; up to 40 MB are accepted');
  const list = page.getByRole('region', { name: 'Candidates' });
  await expect(list).toContainText('Not bought yet?');
  // The donor kept as a candidate is the same vehicle: nothing sets the two apart.
  await list.getByRole('button', { name: 'Keep this donor as one' }).click();
  await list.getByLabel('a chain chosen for each').uncheck();
  await expect(list.getByTestId(/^candidate-/)).toHaveCount(2);
  await list.getByRole('button', { name: 'Remove Dunlin' }).click();
  await expect(list).toContainText('Not bought yet?');
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(list.getByTestId(/^candidate-/)).toHaveCount(2);
  await saved(page);
});

test('a page that is left before it has saved asks nothing when it comes back', async ({ demo, watched: page }) => {
  const at = `${demo.url}/c/${await demo.find('Whimbrel')}`;
  await page.goto(`${at}/layout/B`);
  const mounts = page.getByRole('region', { name: 'Mounts' });
  await mounts.getByRole('button', { name: 'The fewest M8 for all' }).click();
  await saved(page);
  const pack = mounts.getByTestId('mount-pack');
  await pack.getByRole('textbox', { name: 'Bolts', exact: true }).fill('8');
  await page.goto(`${at}/donor/B`);
  const passes = page.getByRole('region', { name: 'By the clock' });
  await expect(passes).toBeVisible();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await passes.getByRole('button', { name: 'Add a pass' }).click();
  await saved(page);
  await passes.getByRole('button', { name: 'Add a run' }).click();
  await page.goto(`${at}/layout/B`);
  await expect(pack.getByRole('textbox', { name: 'Bolts', exact: true })).toHaveValue('8');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await saved(page);
});
