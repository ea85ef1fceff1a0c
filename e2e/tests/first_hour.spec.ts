import type { Page } from '@playwright/test';
import { expect, saved, type Service, test } from '../service.js';

/** From the list to a judged proposal; says how many clicks it took. */
async function propose(page: Page, service: Service, name: string, kind: string, answers: [string, string][]) {
  let clicks = 0;
  const click = async (role: 'button' | 'option' | 'combobox', named: string) => {
    clicks += 1;
    await page.getByRole(role, { name: named, exact: true }).click();
  };
  await page.goto(service.url);
  await click('button', 'New conversion');
  await page.getByLabel('Name of the vehicle').fill(name);
  await click('combobox', 'Kind');
  await click('option', kind);
  for (const [question, answer] of answers) await page.getByRole('textbox', { name: question }).fill(answer);
  await click('button', 'Propose a chain');
  await expect(page.getByRole('region', { name: 'Proposed chain' })).toBeVisible();
  return clicks;
}

const kinds: [string, string, [string, string][]][] = [
  [
    'Whimbrel 9',
    'car',
    [
      ['Longest regular trip', '40 mi'],
      ['Fastest road', '60'],
      ['Steepest hill', '14'],
    ],
  ],
  ['Pipit', 'kart', [['Longest session on the track', '12 min']]],
  ['Wren', 'motorcycle', []],
  ['Dunlin', 'tracked sled', [['Fastest road', '40']]],
];
for (const [name, kind, answers] of kinds) {
  test(`a ${kind} is judged from a name and what is known of three answers`, async ({ empty, watched: page }) => {
    expect(await propose(page, empty, name, kind, answers)).toBeLessThan(10);
    for (const goal of ['range', 'top', 'hill', 'charge'])
      await expect(page.getByTestId(`claim-${goal}`)).toContainText(/\bmet|likely/);
    await expect(page.getByRole('list', { name: 'Power path from cell to tyre' })).toBeVisible();
    await expect(page.getByRole('list', { name: 'Findings' }).getByRole('img', { name: 'Stop' })).toHaveCount(0);
  });
}

test('answers move the proposal, choosing a part ends it, undo brings it back', async ({ empty, watched: page }) => {
  await propose(page, empty, 'Whimbrel 9', 'motorcycle', []);
  const proposed = page.getByRole('region', { name: 'Proposed chain' });
  const range = page.getByTestId('claim-range');
  await expect(range).toContainText('50');
  await proposed.getByRole('textbox', { name: 'Longest regular trip' }).fill('90');
  await expect(range).toContainText('90', { timeout: 15_000 });
  await expect(range).toContainText(/\bmet|likely/);
  await saved(page);
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(range).toContainText('50');
  // A part of one's own choice makes the chain one's own.
  await page.getByRole('list', { name: 'Power path from cell to tyre' }).getByRole('button', { name: /Motor/ }).click();
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  await page.getByRole('button', { name: /^Use / }).first().click();
  await expect(proposed).toHaveCount(0);
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(proposed).toBeVisible();
  await proposed.getByRole('button', { name: 'Keep this chain' }).click();
  await expect(proposed).toHaveCount(0);
});

/** A three-wheeler without a chain. */
async function withoutParts(page: Page, service: Service) {
  await page.goto(service.url);
  await page.getByRole('button', { name: 'New conversion' }).click();
  await page.getByLabel('Name of the vehicle').fill('Pipit');
  await page.getByRole('combobox', { name: 'Kind' }).click();
  await page.getByRole('option', { name: 'three-wheeler' }).click();
  await page.getByRole('button', { name: 'Begin without parts' }).click();
}

test('a motor of which only volts and amps are known is enough: the rest is proposed around it', async ({
  empty,
  watched: page,
}) => {
  await withoutParts(page, empty);
  await page.getByRole('link', { name: /Chain/ }).click();
  await page.getByRole('button', { name: 'Choose a motor' }).click();
  await page.getByRole('button', { name: 'Own part …' }).click();
  const dialog = page.getByRole('dialog', { name: /Own motor/ });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('From the shelf');
  await dialog.getByRole('textbox', { name: 'Volts' }).fill('72');
  await dialog.getByRole('button', { name: 'Use it' }).click();
  await expect(dialog.getByRole('alert')).toContainText('the rated power, or both volts and amps');
  await dialog.getByRole('textbox', { name: 'Amps' }).fill('70');
  await dialog.getByRole('button', { name: 'Use it' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByText('From the shelf')).toBeVisible();
  await page.getByRole('button', { name: 'Propose the rest' }).click();
  const path = page.getByRole('list', { name: 'Power path from cell to tyre' });
  await expect(path).toContainText('From the shelf', { timeout: 15_000 });
  await expect(page.getByTestId('claim-range')).toContainText(/met|likely|unlikely/);
  await saved(page);
  // It is among the own parts, too.
  await page.goto(`${empty.url}/library`);
  await expect(page.getByText('From the shelf')).toBeVisible();
});

const halfKnown = [
  { part: 'pack', link: /^Pack/, one: 'cell or module', first: ['Volts', '3.2'], then: ['Capacity', '100'] },
  { part: 'controller', link: /^Controller/, one: 'controller', first: ['Volts', '72'], then: ['Amps', '150'] },
] as const;
for (const { part, link, one, first, then } of halfKnown)
  test(`a ${one} of which two figures are known is enough, and the bands show the price of that`, async ({
    empty,
    watched: page,
  }) => {
    await withoutParts(page, empty);
    await page.getByRole('link', { name: /Chain/ }).click();
    await page.getByRole('button', { name: `Choose a ${part}` }).click();
    await page.getByRole('button', { name: 'Own part …' }).click();
    const dialog = page.getByRole('dialog', { name: `Own ${one}` });
    await dialog.getByRole('textbox', { name: 'Name' }).fill('From the shelf');
    await dialog.getByRole('textbox', { name: first[0] }).fill(first[1]);
    await dialog.getByRole('button', { name: 'Use it' }).click();
    await expect(dialog.getByRole('alert')).toContainText(then[0]);
    await dialog.getByRole('textbox', { name: then[0] }).fill(then[1]);
    await dialog.getByRole('button', { name: 'Use it' }).click();
    await expect(dialog).toHaveCount(0);
    await page.getByRole('button', { name: 'Propose the rest' }).click();
    const path = page.getByRole('list', { name: 'Power path from cell to tyre' });
    await expect(path).toContainText('From the shelf', { timeout: 15_000 });
    await expect(page.getByTestId('claim-range')).toContainText(/ to \d/);
    // What its class says of it is a guess, until somebody knows better.
    await path.getByRole('button', { name: link }).click();
    await page.getByRole('button', { name: /Its ratings/ }).click();
    const efficiency = page.getByRole('region', { name: /, details/ }).getByRole('button', { name: /guess/ });
    const guesses = await efficiency.count();
    expect(guesses).toBeGreaterThan(3);
    await efficiency.first().click();
    await page.getByRole('menuitem', { name: /measured/ }).click();
    await expect(efficiency).toHaveCount(guesses - 1);
    await saved(page);
  });

test('a charger of which volts and amps are known charges, also before there is anything else', async ({
  empty,
  watched: page,
}) => {
  await withoutParts(page, empty);
  await page.getByRole('link', { name: /Charge/ }).click();
  await page.getByRole('button', { name: 'Choose a charger' }).click();
  await page.getByRole('button', { name: 'Own part …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Own charger' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('From the shelf');
  await dialog.getByRole('button', { name: 'Use it' }).click();
  await expect(dialog.getByRole('alert')).toContainText(/Volts[\s\S]*Amps/);
  await dialog.getByRole('textbox', { name: 'Volts' }).fill('84');
  await dialog.getByRole('textbox', { name: 'Amps' }).fill('20');
  await dialog.getByRole('button', { name: 'Use it' }).click();
  await expect(page.getByText('From the shelf').first()).toBeVisible();
  await page.getByRole('link', { name: /Chain/ }).click();
  await page.getByRole('button', { name: 'Propose the rest' }).click();
  await expect(page.getByTestId('claim-charge')).toContainText(/\d to \d/, { timeout: 15_000 });
  await page.getByRole('link', { name: /Charge/ }).click();
  await expect(page.getByText('From the shelf').first()).toBeVisible();
  await saved(page);
});

test('an emptied field is not known, and what is typed is no longer the handbook’s', async ({
  empty,
  watched: page,
}) => {
  await propose(page, empty, 'Whimbrel 9', 'light van', []);
  await page.getByRole('link', { name: /Donor/ }).click();
  const mass = page.getByRole('textbox', { name: 'Kerb mass' });
  const mark = page.getByRole('button', { name: /^Kerb mass: / });
  await expect(mark).toHaveAccessibleName(/handbook/);
  await mass.fill('1350');
  await expect(mark).toHaveAccessibleName(/guess/);
  await mass.fill('');
  await expect(page.getByText(/not known: 1.200 kg counts, handbook/)).toBeVisible();
  await mass.blur();
  await expect(mass).toHaveValue('1200');
  await expect(mark).toHaveAccessibleName(/handbook/);
});

test('a finding leads to where it is mended, also of what is not there yet', async ({ empty, watched: page }) => {
  await propose(page, empty, 'Whimbrel 9', 'three-wheeler', []);
  const finding = page.getByRole('listitem').filter({ hasText: 'No pack fuse has been chosen' });
  await finding.getByRole('button', { name: /Open fuse and cable/ }).click();
  const sheet = page.getByRole('region', { name: 'Fuse and cable, details' });
  await expect(sheet.locator('input').first()).toBeFocused();
  await sheet.getByRole('textbox', { name: 'Pack fuse' }).fill('80');
  await expect(finding).toHaveCount(0);
  // A fuse is no part of the chain that was proposed: it stays a proposal.
  await expect(page.getByRole('region', { name: 'Proposed chain' })).toBeVisible();
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Library' }).click();
  await expect(page).toHaveURL(/library$/);
});
