import type { Page } from '@playwright/test';
import { seriousFindings } from '../access.js';
import { expect, saved, test } from '../service.js';

for (const [device, width, height] of [
  ['desk', 1280, 800],
  ['phone', 390, 844],
] as const)
  test(`no serious accessibility finding in any dialog or drawer, ${device}`, async ({ demo, watched: page }) => {
    await page.setViewportSize({ width, height });
    const id = await demo.find('Whimbrel');
    const found: string[] = [];
    const look = async (what: string) => {
      await expect(page.getByText(/Loading|Computing …/)).toHaveCount(0);
      found.push(...(await seriousFindings(page, `${device} ${what}`)));
    };
    await page.goto(demo.url);
    await page.getByRole('button', { name: 'New conversion' }).click();
    await look('new conversion');
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    // Where one was is where one goes on.
    await expect(page.getByRole('button', { name: 'New conversion' })).toBeFocused();
    await page.goto(`${demo.url}/c/${id}/chain/A`);
    await page.getByTestId('claim-range').click();
    await expect(page.getByText('What would narrow it')).toBeVisible();
    await look('main influences');
    await page.getByRole('tab', { name: 'Why this number' }).click();
    await expect(page.getByText('usable energy', { exact: true })).toBeVisible();
    await look('why this number');
    await page.keyboard.press('Escape');
    await expect(page.getByTestId('claim-range')).toBeFocused();
    await page.getByRole('button', { name: /^Motor/ }).click();
    await page.getByRole('button', { name: 'Change', exact: true }).click();
    await expect(page.getByText('7 of 7 met').first()).toBeVisible();
    await look('picker');
    await page.getByRole('button', { name: 'Own part …' }).click();
    await look('own part');
    await page.keyboard.press('Escape');
    await expect(page.getByRole('button', { name: 'Own part …' })).toBeFocused();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await page.getByRole('button', { name: /Bench-test/ }).click();
    await look('bench');
    await page.keyboard.press('Escape');
    await page.goto(`${demo.url}/library`);
    await page.getByRole('button', { name: 'new motor' }).click();
    await look('part editor');
    expect(found).toEqual([]);
  });

test('with the keyboard alone: from an empty list to a judged proposal, and a goal changed', async ({
  empty,
  watched: page,
}) => {
  await page.goto(empty.url);
  /** Goes on by Tab until something has the focus, as one does who cannot point. */
  const to = async (role: 'button' | 'textbox' | 'combobox' | 'link', name: string | RegExp) => {
    const target = page.getByRole(role, { name }).first();
    await expect(target).toBeVisible();
    for (let i = 0; i < 90; i += 1) {
      if (await target.evaluate((e) => e === document.activeElement)) {
        // Whoever is there sees that they are: by an outline, or by the line under a text.
        const seen = await target.evaluate(
          (e) => getComputedStyle(e).outlineStyle !== 'none' || e.closest('.Mui-focused') !== null,
        );
        expect(seen, String(name)).toBe(true);
        return;
      }
      await page.keyboard.press('Tab');
    }
    throw new Error(`${role} ${String(name)} is not reached by Tab`);
  };
  await to('button', 'New conversion');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Name of the vehicle')).toBeFocused();
  await page.keyboard.type('Pipit');
  await to('combobox', 'Kind');
  await page.keyboard.press('Enter');
  await page.keyboard.type('three');
  await page.keyboard.press('Enter');
  await to('textbox', 'Longest regular trip');
  await page.keyboard.type('12 mi');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('claim-range')).toContainText(/met|likely|unlikely/, { timeout: 20_000 });
  // Past bar and claims at once.
  await page.reload();
  await expect(page.getByTestId('claim-range')).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'To the stage' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('main')).toBeFocused();
  await page.keyboard.press('1');
  await expect(page).toHaveURL(/brief\/A$/);
  await expect(page).toHaveTitle(/^Pipit A, brief/);
  await to('textbox', 'Range at least');
  await page.keyboard.press('Control+A');
  await page.keyboard.type('30');
  await expect(page.getByTestId('claim-range')).toContainText('≥ 30');
  // Undo within the text is the text's own; the edit before is taken back where nothing has been typed.
  await page.keyboard.press('Control+Z');
  await expect(page.getByRole('textbox', { name: 'Range at least' }).first()).not.toHaveValue('30');
  await saved(page);
  // Single keys can be switched off.
  await page.getByRole('main').focus();
  await page.keyboard.press('?');
  await page
    .getByRole('switch', { name: /heed single keys/ })
    .or(page.getByRole('checkbox', { name: /heed single keys/ }))
    .press('Space');
  await page.keyboard.press('Escape');
  await page.getByRole('main').focus();
  await page.keyboard.press('4');
  await page.keyboard.press('c');
  await expect(page).toHaveURL(/brief\/A$/);
  await expect(page.getByRole('link', { name: /^Variant/ })).toHaveCount(1);
});

test('imperial throughout: nothing on any screen is told in metric units', async ({ demo, watched: page }) => {
  const id = await demo.find('Whimbrel');
  await page.goto(`${demo.url}/c/${id}/brief/A`);
  await page.getByRole('combobox', { name: 'Units' }).click();
  await page.getByRole('option', { name: 'mi · lb · hp' }).click();
  await saved(page);
  const metric: string[] = [];
  for (const stage of ['brief', 'donor', 'match', 'chain', 'charge', 'electrics', 'layout', 'compare']) {
    await page.goto(`${demo.url}/c/${id}/${stage}/B`);
    await expect(page.getByText(/Loading|Computing …/)).toHaveCount(0);
    await expect(page.getByTestId('claim-range')).toContainText('mi');
    if (stage === 'chain') await expect(page.getByText('Headline figures')).toBeVisible();
    const text = await page.evaluate(() => document.body.innerText);
    const said = text.match(/[−\d][\d  .]*\s?(km\/h|km|kg|kN|N·m|N m|Wh\/km|°C|l\/100 km|m\/s²)(?![\w/])/g) ?? [];
    metric.push(...said.map((s) => `${stage}: ${s}`));
  }
  expect(metric).toEqual([]);
  // The list tells of each conversion in its own units.
  await page.goto(demo.url);
  for (const [variant, says, not] of [
    ['Whimbrel 9, delivery van, variant A', 'mph', 'km/h'],
    ['Pipit, market trike, variant A', 'km/h', 'mph'],
  ] as const) {
    await page.getByRole('link', { name: new RegExp(`^${variant}`) }).hover();
    const told = page.getByRole('tooltip').filter({ hasText: says });
    await expect(told).toBeVisible();
    await expect(told).not.toContainText(not);
  }
  // Sprints as people of these units compare them, and a goal that begins with a round figure.
  await page.goto(`${demo.url}/c/${id}/chain/A`);
  await expect(page.getByRole('region', { name: 'Headline figures' })).toContainText('0 to 60 mph');
  await page.goto(`${demo.url}/c/${id}/brief/A`);
  await page.getByRole('combobox', { name: 'Add a goal' }).click();
  await page.getByRole('option', { name: 'Time between two speeds' }).click();
  await expect(page.getByRole('textbox', { name: 'To', exact: true }).last()).toHaveValue('30');
  const price = page.getByRole('textbox', { name: 'At most' }).first();
  await price.fill('9,500');
  await expect(page.getByText('"9,500" can be 9.5 or 9500; write it without the comma')).toBeVisible();
  // A half-typed figure leaves what counted before.
  await page.goto(`${demo.url}/c/${id}/donor/A`);
  const mass = page.getByRole('textbox', { name: 'Kerb mass' });
  const before = await mass.inputValue();
  await mass.pressSequentially('x');
  await mass.fill('30x');
  await page.reload();
  await expect(mass).toHaveValue(before);
});

test('what a claim says stays in its cell, whatever the figure', async ({ demo, watched: page }) => {
  const at = (path: string) => fetch(demo.url + path).then((answer) => answer.json() as Promise<any>);
  const { designs } = await at(`/api/v1/conversions/${await demo.find('Whimbrel')}`);
  const document = await at(`/api/v1/designs/${String(designs[0].id)}/document`);
  // A trip that is not followed, a charge that does not get there, and more money than there is room for.
  Object.assign(document.design.controller, { battery_current_a: 20, battery_current_continuous_a: 20 });
  document.design.pack.module.price = 60_000;
  delete document.design.charger;
  const added = (await (
    await fetch(`${demo.url}/api/v1/conversions/import`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(document),
    })
  ).json()) as { id: string };
  for (const width of [1280, 1024, 390]) {
    await page.setViewportSize({ width, height: 800 });
    await page.goto(`${demo.url}/c/${added.id}/brief/A`);
    await expect(page.getByTestId('claim-range')).toContainText('not followed');
    const claims = page.locator('.claim');
    expect(await claims.count()).toBeGreaterThan(5);
    const over = await claims.evaluateAll((cells) =>
      cells.flatMap((cell) => {
        const edge = cell.getBoundingClientRect().right;
        return [...cell.querySelectorAll('.claim-figure > *')]
          .filter((part) => part.getBoundingClientRect().right > edge)
          .map((part) => part.textContent);
      }),
    );
    expect(over, `at ${String(width)} px`).toEqual([]);
  }
});

test('variants are named, described, removed and put back', async ({ demo, watched: page }) => {
  const id = await demo.find('Whimbrel');
  await page.goto(`${demo.url}/c/${id}/chain/A`);
  await page.getByRole('button', { name: 'variants' }).click();
  const table = page.getByRole('table', { name: 'Variants side by side' });
  await table.getByRole('textbox', { name: 'called' }).nth(1).fill('the cheap one');
  await table.getByRole('textbox', { name: 'remark on B' }).fill('asks less of the cells');
  await saved(page);
  await expect(page.getByRole('link', { name: 'Variant B, the cheap one' })).toBeVisible();
  await table.getByRole('button', { name: /variant B/ }).click();
  await expect(page.getByRole('link', { name: /^Variant B/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(page.getByRole('link', { name: 'Variant B, the cheap one' })).toBeVisible();
  await page.goto(`${demo.url}/c/${id}/compare/A`);
  await expect(table.getByRole('textbox', { name: 'remark on B' })).toHaveValue('asks less of the cells');
});

test('five thousand parts of one’s own are drawn a screenful at a time, found, chosen and removed together', async ({
  demo,
  watched: page,
}) => {
  const heading =
    'part;name;kind;model.kind;model.peak_torque_nm;model.peak_power_w;reference_voltage_v;max_speed_rpm;continuous_power_w;mass_kg;price';
  const rows = Array.from({ length: 5000 }, (_, i) => {
    const kw = 5 + (i % 400) / 10;
    return `motor;Dipper ${String(i)};induction;envelope;${String(kw * 6).replace('.', ',')};${String(2000 * kw).replace('.', ',')};96;7000;${String(1000 * kw).replace('.', ',')};${String(20 + kw).replace('.', ',')};${String(500 + i)}`;
  });
  const imported = await fetch(`${demo.url}/api/v1/library/import`, {
    method: 'POST',
    headers: { 'content-type': 'text/csv' },
    body: [heading, ...rows].join('\n'),
  });
  expect(imported.status, await imported.text()).toBe(200);
  await page.goto(`${demo.url}/library`);
  const table = page.getByRole('table', { name: 'Motors' });
  await expect(table.getByRole('row').first()).toBeVisible();
  expect(await table.getByRole('row').count()).toBeLessThan(200);
  await page
    .getByPlaceholder(/search/i)
    .or(page.getByRole('textbox', { name: /search/i }))
    .first()
    .fill('Dipper 4999');
  await expect(table.getByRole('row')).toHaveCount(1);
  // In a design: the nearest are tried, and what is asked for by name is.
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/chain/A`);
  await page.getByRole('button', { name: /^Motor/ }).click();
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  await expect(page.getByText(/of 7 met/).nth(2)).toBeVisible();
  await page.getByRole('textbox', { name: 'Search parts' }).fill('Dipper 4321');
  const pick = page.getByRole('button', { name: 'Use Dipper 4321' });
  await expect(pick).toContainText('of 7 met');
  await pick.click();
  await expect(page.getByRole('button', { name: /^Motor Dipper 4321/ })).toBeVisible();
  await saved(page);
  await page.goto(`${demo.url}/library`);
  await page
    .getByRole('switch', { name: 'own only' })
    .or(page.getByRole('checkbox', { name: 'own only' }))
    .check();
  await page.getByRole('button', { name: 'Remove all of these …' }).click();
  await page.getByRole('button', { name: /^Remove 5000/ }).click();
  await expect(page.getByText('No part of your own of this kind yet.')).toBeVisible();
});

test('an outage of two minutes ends by itself on both sides: edits are stored and figures are told', async ({
  demo,
  watched: page,
}) => {
  await page.clock.install();
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/donor/A`);
  await expect(page.getByTestId('claim-range')).toBeVisible();
  const mass = page.getByRole('textbox', { name: 'Kerb mass' });
  await demo.down();
  await mass.fill('222');
  for (let s = 0; s < 120; s += 10) await page.clock.runFor(10_000);
  await expect(page.getByTestId('save-state')).toContainText('not saved');
  await demo.up();
  // No key is pressed and nothing is clicked.
  await expect(async () => {
    await page.clock.runFor(2000);
    await expect(page.getByTestId('save-state')).toHaveText(/^saved/, { timeout: 100 });
  }).toPass();
  await expect(async () => {
    await page.clock.runFor(2000);
    expect(Number(await page.getByTestId('claim-range').evaluate((e) => getComputedStyle(e).opacity))).toBe(1);
  }).toPass();
  await page.reload();
  await expect(mass).toHaveValue('222');
});

test('a second window knows what the first has stored, without an edit of its own', async ({
  demo,
  watched: page,
  context,
}) => {
  const url = `${demo.url}/c/${await demo.find('Pipit')}/donor/A`;
  const other = await context.newPage();
  await Promise.all([page.goto(url), other.goto(url)]);
  const mass = (p: Page) => p.getByRole('textbox', { name: 'Kerb mass' });
  await mass(page).fill('233');
  await saved(page);
  await expect(mass(other)).toHaveValue('233');
  // Undo there is its own: it has done nothing.
  await expect(other.getByRole('button', { name: 'undo' })).toBeDisabled();
});
