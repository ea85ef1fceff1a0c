import { expect, saved, still, test } from '../service.js';

test('a week that fails in winter says when and by how much, and another socket mends it', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/charge/A`);
  const week = page.getByRole('region', { name: 'The week' });
  await expect(week.getByTestId('week-summer')).toContainText('holds, lowest at');
  const winter = week.getByTestId('week-winter');
  await expect(winter).toContainText(/Bakery round, \w+day \d\d:00: [\d.]+ km short/);
  // The drawing says the same to those who cannot see it, and a list tells every trip and charge.
  // What holds on the medians says how sure that is, and what fails says where.
  await expect(week.getByTestId('week-summer')).toContainText(/holds in \d+ % of 64 samples; lowest \d+ % … \d+ %/);
  await expect(winter).toContainText(/missed: holds in \d+ % of 64 samples.*mostly at/);
  await expect(week.getByTestId('week-band')).toHaveAccessibleName(/In winter \w+day \d\d:00: [\d.]+ km short/);
  await week.getByRole('button', { name: 'As a list' }).click();
  const listed = week.getByRole('table', { name: 'Trips and charges in winter' });
  await expect(listed.getByRole('row', { name: /Bakery round/ }).last()).toContainText('→ 10 %');
  const mends = week.getByRole('list', { name: 'What would make it hold' });
  await mends
    .getByRole('listitem')
    .filter({ hasText: 'Charge at packing shed 32 A instead' })
    .getByRole('button', { name: 'Try it' })
    .click();
  await expect(winter).toContainText('holds, lowest at');
  await expect(week.getByLabel('Socket', { exact: true })).toContainText('packing shed 32 A');
  await expect(mends).toHaveCount(0);
  await saved(page);
  await page.getByRole('button', { name: 'undo' }).click();
  await expect(winter).toContainText('km short');
  await expect(week.getByLabel('Socket', { exact: true })).toContainText('bakery wall 13 A');
  await saved(page);
});

test('what was worked out before an edit cannot be put over it', async ({ demo: service, watched: page }) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/charge/A`);
  const week = page.getByRole('region', { name: 'The week' });
  const first = week.getByRole('list', { name: 'What would make it hold' }).getByRole('button').first();
  await expect(first).toBeEnabled();
  // The next answer is held back until the edit has been seen to stand.
  let answer = () => undefined as void;
  const held = new Promise<void>((resolve) => {
    answer = resolve;
  });
  await page.route('**/api/v1/week', async (route) => {
    await held;
    await route.continue();
  });
  await week.getByLabel('Leaves at').last().fill('13:30');
  await expect(first).toBeDisabled();
  answer();
  await expect(first).toBeEnabled();
  await first.click();
  await expect(week.getByTestId('week-winter')).toContainText('holds, lowest at');
  await expect(week.getByLabel('Leaves at').last()).toHaveValue('13:30');
  await saved(page);
});

test('a week that nobody spoke of is assumed, and becomes their own with the first change', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Pipit')}/charge/A`);
  const week = page.getByRole('region', { name: 'The week' });
  await expect(week).toContainText('this one is assumed until it is changed');
  await week.getByRole('button', { name: 'Saturday' }).first().click();
  await expect(week).not.toContainText('assumed until it is changed');
  await expect(week.getByRole('button', { name: 'Saturday' }).first()).toHaveAttribute('aria-pressed', 'true');
  // Half a clock changes nothing; a whole one does.
  await week.getByLabel('Leaves at').fill('06:15');
  await week.getByRole('button', { name: 'As a list' }).click();
  await expect(week.getByRole('table', { name: 'Trips and charges in summer' })).toContainText('Mo 06:15');
  await saved(page);
  await page.reload();
  await expect(week.getByLabel('Leaves at')).toHaveValue('06:15');
});

test('a charge is told between any two states, and a pack below a station is told what it would take', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/charge/A`);
  const sockets = page.getByRole('region', { name: 'At each socket' });
  const row = (name: string) => sockets.getByRole('row', { name: new RegExp(name) });
  await expect(row('bakery wall')).toContainText(/6 h 5\d.*the circuit of the socket/);
  await expect(row('ferry port')).toContainText(/never.*the pack is below its lowest voltage/);
  await sockets.getByLabel('Charge at the start').fill('20');
  await sockets.getByLabel('Charge at the end').fill('80');
  await expect(row('bakery wall')).toContainText(/4 h \d\d/);
  await sockets.getByLabel('Charge at the end').fill('10');
  await expect(sockets.getByRole('alert')).toContainText('It must end above 20 %, where it begins.');
  await sockets.getByLabel('Charge at the end').fill('');
  await row('ferry port').getByRole('button').click();
  await expect(sockets).toContainText('It works from 150 V to 500 V; the pack has 125 V at the bottom of its window');
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/chain/A`);
  await expect(page.locator('[data-rule="volts.pack-below-station"]')).toContainText(
    'It would take 44 cells in series instead of 36.',
  );
  // An outlet as it is found brings its rules with it.
  await page.goto(`${service.url}/c/${await service.find('Whimbrel')}/brief/A`);
  await page.getByRole('button', { name: 'Add a socket' }).click();
  await page.getByRole('menuitem', { name: /Red industrial socket, 3 x 16 A/ }).click();
  const added = page.getByRole('region', { name: 'Sockets' });
  await expect(added.getByLabel('Connector').last()).toContainText('IEC 60309');
  await expect(added.getByLabel('Phases').last()).toHaveValue('3');
  await saved(page);
});

test('packs are held against each other over the years, and one is taken as a variant', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Wren')}/charge/A`);
  const years = page.getByRole('region', { name: 'The years' });
  const hold = years.getByRole('button', { name: 'Hold packs against each other over the years' });
  await still(hold);
  await hold.click();
  const table = years.getByRole('table', { name: 'Packs over the years' });
  await expect(years.getByTestId('years-verdict')).toContainText('costs least over 8 years');
  await expect(table.getByRole('row', { name: /as it is/ })).toContainText(/\d kWh/);
  const before = await years.getByTestId('years-verdict').innerText();
  await years.getByLabel('Years looked at').fill('20');
  await expect(years.getByTestId('years-verdict')).toContainText('over 20 years');
  expect(before).not.toContain('20 years');
  await table
    .getByRole('row', { name: /3 strings/ })
    .getByRole('button', { name: 'Take as variant' })
    .click();
  await expect(page).toHaveURL(/\/charge\/B$/);
  await saved(page);
});

test('the best of both schools comes from a search, stands among the packs and is taken', async ({
  demo: service,
  watched: page,
}) => {
  await page.goto(`${service.url}/c/${await service.find('Pipit')}/charge/A`);
  const years = page.getByRole('region', { name: 'The years' });
  const hold = years.getByRole('button', { name: 'Hold packs against each other over the years' });
  await still(hold);
  await hold.click();
  await years.getByRole('button', { name: 'Find the best of both schools' }).click();
  const table = years.getByRole('table', { name: 'Packs over the years' });
  const big = table.getByRole('row', { name: /Best big pack found/ });
  await expect(big).toContainText(/\d kWh/, { timeout: 60_000 });
  await expect(years.getByRole('button', { name: 'Find the best of both schools again' })).toBeEnabled();
  // Each school is told of: by its pack, or that the library has none.
  await expect(
    years.getByText(/Best small pack found|No small pack of the library meets the brief/).first(),
  ).toBeVisible();
  await big.getByRole('button', { name: 'Take as variant' }).click();
  await expect(page).toHaveURL(/\/charge\/C$/);
  await saved(page);
});
