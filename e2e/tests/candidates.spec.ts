import { expect, saved, test } from '../service.js';

test('candidates stand side by side as whole conversions, one becomes the donor, and undo gives the other back', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/A`);
  const list = page.getByRole('region', { name: 'Candidates' });
  const rows = list.getByTestId(/^candidate-/);
  await expect(rows).toHaveCount(3);
  const turnstone = list.getByTestId('candidate-turnstone');
  // Each is given a chain of its own, however long that takes.
  await expect(turnstone).toContainText('a chain chosen for it', { timeout: 30_000 });
  await expect(list.getByTestId('candidate-in-hand')).toContainText('28, it has 9');
  // With one and the same chain they differ by what they are themselves: what misses more musts stands behind, whatever it costs.
  await list.getByLabel('a chain chosen for each').uncheck();
  await expect(turnstone).toContainText('with the chain in hand');
  await expect(rows.nth(0)).toContainText('1. Whimbrel 9');
  await expect(rows.nth(1)).toContainText('2. Turnstone estate');
  await expect(rows.nth(2)).toContainText('Curlew 4');
  await expect(rows.nth(2)).toContainText('2 musts missed');
  await list.getByRole('button', { name: 'Edit Turnstone estate' }).click();
  await list.getByRole('textbox', { name: 'Bought for' }).fill('9000');
  await expect(list).toContainText(/8.670 EUR more than the least/);
  await list.getByRole('textbox', { name: 'Kerb mass' }).fill('-5');
  await expect(list.getByRole('textbox', { name: 'Kerb mass' })).toHaveAttribute('aria-invalid', 'true');
  await list.getByRole('textbox', { name: 'Kerb mass' }).fill('1010');
  await list.getByRole('textbox', { name: 'Bought for' }).fill('1 400');
  await expect(list).not.toContainText(/8.670 EUR more than the least/);
  await list.getByLabel('a chain chosen for each').check();
  await expect(turnstone).toContainText('a chain chosen for it', { timeout: 30_000 });
  await saved(page);

  await list.getByRole('button', { name: 'Make Turnstone estate the donor' }).click();
  await expect(page).toHaveURL(/donor\/D$/);
  await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toHaveValue('Turnstone estate');
  await expect(list.getByTestId('candidate-in-hand')).toContainText('Turnstone estate');
  await expect(rows.filter({ hasText: 'Whimbrel 9' })).toHaveCount(1);
  await saved(page);
  // The van kept its bays and its ledger while it was a candidate.
  await page.reload();
  await list.getByRole('button', { name: 'Make Whimbrel 9 the donor' }).click();
  await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toHaveValue('Whimbrel 9');
  await expect(page.getByRole('region', { name: 'Taken out' }).getByLabel('Item').first()).toHaveValue(
    'Engine and ancillaries',
  );
});

test('a service too busy to choose a chain is told as that, and asked again', async ({ demo, page }) => {
  const busy = { title: 'Busy', status: 503, detail: 'no chain was found within 16 s; ask again in a moment' };
  const proposals = '**/api/v1/match/proposal';
  await page.route(proposals, (route) =>
    route.fulfill({ status: 503, contentType: 'application/problem+json', body: JSON.stringify(busy) }),
  );
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/donor/A`);
  const list = page.getByRole('region', { name: 'Candidates' });
  const turnstone = list.getByTestId('candidate-turnstone');
  await expect(turnstone).toContainText('no chain could be chosen now: with the one in hand', { timeout: 30_000 });
  await expect(list.getByRole('alert')).toContainText(/Busy.*in a moment\. Nothing that was saved is lost\./);
  await page.unroute(proposals);
  await list.getByRole('button', { name: 'Try again' }).click();
  await expect(turnstone).toContainText('a chain chosen for it', { timeout: 30_000 });
  await expect(list.getByRole('alert')).toHaveCount(0);
});

test('a first candidate is added on a phone from its kind, and two windows add theirs without a clash', async ({
  demo,
  watched: page,
  context,
}) => {
  await page.setViewportSize({ width: 390, height: 800 });
  const at = `${demo.url}/c/${await demo.find('Pipit')}/donor/A`;
  await page.goto(at);
  const other = await context.newPage();
  await other.goto(at);
  const add = async (of: typeof page, kind: string, rows: number) => {
    const list = of.getByRole('region', { name: 'Candidates' });
    await expect(list).toContainText(rows === 2 ? 'Not bought yet?' : 'Plover');
    await list.getByLabel('Add a').click();
    await of.getByRole('option', { name: kind, exact: true }).click();
    await expect(list.getByTestId(/^candidate-/)).toHaveCount(rows);
    return list;
  };
  const first = await add(page, 'three-wheeler', 2);
  await first.getByRole('textbox', { name: 'Name' }).fill('Plover');
  await saved(page);
  const second = await add(other, 'quad', 3);
  await second.getByRole('textbox', { name: 'Name' }).fill('Knot');
  await saved(other);
  await expect(second).toContainText('Plover');
  await expect(other.getByRole('dialog')).toHaveCount(0);
  await other.close();
  // The drawing follows the window a frame later.
  await expect.poll(() => page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
