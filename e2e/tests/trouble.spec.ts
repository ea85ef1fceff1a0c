import { expect, saved, test } from '../service.js';

test('nonsense is refused with words, stays visible and is never stored', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/donor/A`);
  const mass = page.getByRole('textbox', { name: 'Kerb mass' });
  for (const [typed, words] of [
    ['heavy', '"heavy" is no number; 10 to 40 000 kg accepted'],
    ['-5', '-5 is out of range; 10 to 40 000 kg accepted'],
    ['3 hp', '"hp" is no unit of kerb mass; accepted are kg, g, t, lb, oz'],
    ['1e999', '"1e999" is no number'],
  ] as const) {
    await mass.fill(typed);
    await expect(page.getByText(words)).toBeVisible();
    await mass.blur();
    await expect(mass).toHaveValue(typed);
  }
  await expect(page.getByTestId('save-state')).toHaveText('saved');
  await mass.fill('260,5');
  await mass.blur();
  await expect(mass).toHaveValue('260.5');
  const code = page.getByRole('textbox', { name: 'Tyre code' });
  await code.fill('fat and round');
  await expect(page.getByText('codes like 175/70 R13').first()).toBeVisible();
  await expect(page.getByTestId('save-state')).toContainText('not saved');
  // What is not computed is said, and what was known stays in view.
  await expect(page.getByRole('region', { name: 'Claims' }).getByRole('alert')).toContainText('fat and round');
  await expect(page.getByTestId('claim-range')).toContainText('km');
  await code.fill('3.50-10');
  await expect(page.getByRole('region', { name: 'Claims' }).getByRole('alert')).toHaveCount(0);
  await saved(page);
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/donor/A`);
  await expect(mass).toHaveValue('260.5');
});

test('two machines edit the same design and lose nothing', async ({ demo, watched: page, browser }) => {
  const url = `${demo.url}/c/${await demo.find('Pipit')}/donor/A`;
  // Windows of one browser tell each other; another machine learns with its next save.
  const elsewhere = await browser.newContext();
  const other = await elsewhere.newPage();
  await Promise.all([page.goto(url), other.goto(url)]);
  const field = (p: typeof page, name: string) => p.getByRole('textbox', { name, exact: true });
  await field(page, 'Frontal area').fill('1.2');
  await saved(page);
  // The other window has not seen that; its own edit is of another place.
  await field(other, 'Drag coefficient').fill('0.8');
  await saved(other);
  await expect(field(other, 'Frontal area')).toHaveValue('1.2');
  await expect(field(other, 'Drag coefficient')).toHaveValue('0.8');

  // The same place: both values are shown and one is chosen.
  await field(page, 'Drag coefficient').fill('0.66');
  const dialog = page.getByRole('dialog', {
    name: 'Changed in another window too',
  });
  await expect(dialog.getByRole('button', { name: /^mine\s*0\.66$/ })).toBeVisible();
  await dialog.getByRole('button', { name: /^theirs\s*0\.8$/ }).click();
  await dialog.getByRole('button', { name: 'Keep these' }).click();
  await saved(page);
  // The value that was not chosen is a step back.
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(field(page, 'Drag coefficient')).toHaveValue('0.66');
  await page.getByRole('button', { name: 'redo' }).click();
  await saved(page);
  await page.reload();
  await expect(field(page, 'Drag coefficient')).toHaveValue('0.8');
  await expect(field(page, 'Frontal area')).toHaveValue('1.2');
});

test('undo is one’s own: it takes back nothing that another window saved', async ({ demo, watched: page, context }) => {
  const id = await demo.find('Pipit');
  const other = await context.newPage();
  await Promise.all([page.goto(`${demo.url}/c/${id}/brief/B`), other.goto(`${demo.url}/c/${id}/brief/B`)]);
  const target = (p: typeof page, label: string) => p.getByRole('textbox', { name: label }).first();
  // Two goals of one list, one in each window.
  await target(page, 'Range at least').fill('31');
  await saved(page);
  await target(other, 'Top speed at least').fill('33');
  await saved(other);
  await expect(target(other, 'Range at least')).toHaveValue('31');
  await page.getByRole('textbox', { name: 'Notes' }).fill('hears of the other');
  await saved(page);
  await expect(target(page, 'Top speed at least')).toHaveValue('33');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  const undo = page.getByRole('button', { name: 'undo' });
  while (await undo.isEnabled()) await undo.click();
  await expect(target(page, 'Range at least')).not.toHaveValue('31');
  await expect(target(page, 'Top speed at least')).toHaveValue('33');
  const stored = async () => {
    const { brief } = (await (await fetch(`${demo.url}/api/v1/conversions/${id}`)).json()) as {
      brief: { goals: { measure: { kind: string; at_least_kmh?: number; at_least_km?: number } }[] };
    };
    const goal = (kind: string) => brief.goals.find((g) => g.measure.kind === kind)?.measure;
    return [goal('top_speed')?.at_least_kmh, goal('range')?.at_least_km === 31];
  };
  await expect.poll(stored).toEqual([33, false]);
});

test('a reload in the middle of a write, and leaving just after typing, lose nothing', async ({
  demo,
  watched: page,
}) => {
  const id = await demo.find('Pipit');
  const url = `${demo.url}/c/${id}/donor/A`;
  const mass = page.getByRole('textbox', { name: 'Kerb mass' });
  const stored = async () =>
    ((await (await fetch(`${demo.url}/api/v1/conversions/${id}`)).json()) as { donor: { curb_mass_kg: number } }).donor
      .curb_mass_kg;
  await page.goto(url);
  // The write hangs, as on a bad line, and the page is loaded anew meanwhile.
  await page.route('**/api/v1/conversions/*', (route) =>
    route.request().method() === 'PUT' ? new Promise<void>(() => undefined) : route.continue(),
  );
  await mass.fill('263');
  await expect(page.getByTestId('save-state')).toContainText('saving');
  await page.waitForTimeout(600);
  await page.unroute('**/api/v1/conversions/*');
  await page.reload();
  await expect(mass).toHaveValue('263');
  await saved(page);
  expect(await stored()).toBe(263);
  // Leaving within the pause before an edit is written sends it.
  await mass.fill('264');
  await page.getByRole('link', { name: /all conversions/ }).click();
  await expect.poll(stored).toBe(264);
});

test('the service stops and starts again under an open page', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/donor/A`);
  const mass = page.getByRole('textbox', { name: 'Kerb mass' });
  await expect(mass).toHaveValue('260');
  await demo.down();
  await mass.fill('271');
  await expect(page.getByTestId('save-state')).toContainText('not saved, trying again');
  await demo.up();
  await saved(page);
  await expect(page.getByTestId('claim-range')).toContainText('km');

  // Edits that were not saved when the page was left come back too.
  await demo.down();
  await mass.fill('282');
  await expect(page.getByTestId('save-state')).toContainText('not saved');
  await demo.up();
  await page.reload();
  await expect(mass).toHaveValue('282');
  await saved(page);
  const stored = (await (await fetch(`${demo.url}/api/v1/conversions/${await demo.find('Pipit')}`)).json()) as {
    donor: { curb_mass_kg: number };
  };
  expect(stored.donor.curb_mass_kg).toBe(282);
});

test('what takes both cores for one edit is given up with the next', async ({ demo, watched: page }) => {
  // Bands that never come: the service has them, the page does not get them before it edits again.
  let asked = 0;
  await page.route('**/api/v1/bands', async (route) => {
    asked += 1;
    if (asked < 3) return;
    await route.continue();
  });
  const given: string[] = [];
  page.on('requestfailed', (r) => given.push(new URL(r.url()).pathname));
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/chain/B`);
  await page.getByRole('button', { name: /^Pack/ }).click();
  const more = page.getByLabel('One more: strings in parallel');
  await expect.poll(() => asked).toBe(1);
  await more.click();
  // The bands of the design before are given up, those of this one asked for, given up with the next edit, and asked for again.
  await expect.poll(() => given.filter((p) => p.endsWith('/bands')).length).toBe(1);
  await expect.poll(() => asked).toBe(2);
  await page.getByLabel('One fewer: strings in parallel').click();
  await expect.poll(() => given.filter((p) => p.endsWith('/bands')).length).toBe(2);
  await expect(page.getByTestId('claim-range')).toContainText(/[\d.]+ to [\d.]+/);
  await saved(page);
});

test('an edit asks for its figures once and at once; those before stand as they were judged until the new ones are there', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/chain/A`);
  await page.getByRole('button', { name: /^Pack/ }).click();
  const range = page.getByTestId('claim-range');
  await expect(range).toContainText(/\d to \d/);
  const before = await range.textContent();
  let asked = 0;
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route('**/api/v1/estimate', async (route) => {
    asked += 1;
    await held;
    await route.continue();
  });
  await page.getByRole('button', { name: 'One more: strings in parallel' }).click();
  // Before the next frame is drawn.
  await expect.poll(() => asked).toBe(1);
  const strip = page.getByRole('region', { name: 'Claims' });
  await expect(strip.locator('.claims')).toHaveCSS('opacity', '0.6');
  expect(await range.textContent()).toBe(before);
  release();
  await expect(range).not.toHaveText(before ?? '');
  await expect(strip.locator('.claims')).toHaveCSS('opacity', '1');
  await expect(range).toContainText(/\d to \d/);
  await saved(page);
  expect(asked).toBe(1);
});

test('bands belong to the figures beside them: those of an edit are marked as missing only once its figures are there', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/chain/A`);
  await page.getByRole('button', { name: /^Pack/ }).click();
  const figures = page.getByRole('region', { name: 'Headline figures' });
  await expect(figures).toContainText('four times in five');
  const rows = figures.getByRole('button');
  const [first, count] = [await rows.first().textContent(), await rows.count()];
  const gates = Object.fromEntries(
    ['estimate', 'bands'].map((what) => {
      let open = () => {};
      return [what, { shut: new Promise<void>((resolve) => (open = resolve)), open: () => open() }];
    }),
  );
  for (const [what, gate] of Object.entries(gates))
    await page.route(`**/api/v1/${what}`, async (route) => {
      await gate.shut;
      await route.continue();
    });
  await page.getByRole('button', { name: 'One more: strings in parallel' }).click();
  // Estimate and bands are still those before the edit, together.
  await expect(page.locator('.claims')).toHaveCSS('opacity', '0.6');
  await expect(figures).toHaveAttribute('aria-busy', 'false');
  gates['estimate']?.open();
  await expect(figures).toHaveAttribute('aria-busy', 'true');
  await expect(figures).toContainText('before the last change');
  await expect(page.getByTestId('claim-range')).not.toContainText(/\d to \d/);
  gates['bands']?.open();
  await expect(figures).toHaveAttribute('aria-busy', 'false');
  await expect(rows.first()).not.toHaveText(first ?? '');
  await expect(rows).toHaveCount(count);
  await saved(page);
});

test('what was sized for the design before an edit is not taken over that edit, and is asked for anew once', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/electrics/C`);
  const all = page.getByRole('button', { name: 'Take all that is open' });
  const one = page.getByRole('button', { name: 'Take it: Service disconnect' });
  await expect(all).toBeEnabled();
  await expect(one).toBeEnabled();
  let asked = 0;
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route('**/api/v1/electrics', async (route) => {
    asked += 1;
    await held;
    await route.continue();
  });
  await page.getByLabel('Precharge resistor').fill('77 Ω');
  await expect(all).toBeDisabled();
  await expect(one).toBeDisabled();
  await expect(page.getByLabel('Brakes are helped')).toBeEnabled();
  release();
  await expect(all).toBeEnabled();
  await saved(page);
  // Ahead of the page and by the page itself it is the same request.
  expect(asked).toBe(1);
});

test('a key that changes nothing takes nothing away from what is under way', async ({ demo, watched: page }) => {
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  const given: string[] = [];
  page.on('requestfailed', (r) => given.push(new URL(r.url()).pathname));
  const asked = page.waitForRequest('**/api/v1/bands');
  await page.route('**/api/v1/bands', async (route) => {
    await held;
    await route.continue();
  });
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/chain/B`);
  await asked;
  // There is nothing to undo or redo.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+Shift+z');
  release();
  await expect(page.getByTestId('claim-range')).toContainText(/[\d.]+ to [\d.]+/);
  expect(given).toEqual([]);
});
