import { expect, saved, test } from '../service.js';

test('brief to match to chain: search, trade off, compare, ask why not, use', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/match/B`);
  // What the brief demands stands there before any part is chosen.
  await expect(page.getByTestId('needs')).toContainText(/kW at peak/);
  await expect(page.getByRole('table', { name: 'Asked of the wheels' })).toContainText('Harbour hill start');
  await page.getByRole('button', { name: 'search the library' }).click();
  const table = page.getByRole('table', {
    name: 'Designs that meet the brief',
  });
  await expect(table).toBeVisible();
  await expect(page.getByRole('button', { name: 'search again' })).toBeVisible();
  await expect(page.getByTestId('report').last()).toContainText('billion raw combinations');

  // Sorted by cost, the cheapest comes first; ten near-identical packs are one row that opens.
  await table.getByRole('button', { name: 'Cost' }).click();
  const costs = async () =>
    (await table.getByRole('row').filter({ hasText: 'EUR' }).allInnerTexts()).map((t) =>
      Number(/([\d ]+)\sEUR/.exec(t)?.[1]?.replaceAll(' ', '')),
    );
  const cheapest = (await costs())[0] ?? 0;
  expect(cheapest).toBeGreaterThan(0);
  expect(await costs()).toEqual((await costs()).toSorted((a, b) => a - b));
  const rows = await table.getByRole('row').count();
  await table
    .getByRole('button', { name: /^\+ \d+ packs?$/ })
    .first()
    .click();
  await expect.poll(() => table.getByRole('row').count()).toBeGreaterThan(rows);

  // A row opens by the keyboard as by a click.
  const details = table.getByRole('button', { name: /^Number \d+, .*: details$/ }).first();
  await details.press('Enter');
  await expect(details).toHaveAttribute('aria-expanded', 'true');
  await details.press('Enter');
  await expect(details).toHaveAttribute('aria-expanded', 'false');

  // Dragging a frame keeps what is inside, and all come back.
  const plot = page.getByTestId('trade-off');
  await plot.scrollIntoViewIfNeeded();
  const box = await plot.boundingBox();
  if (!box) throw new Error('no drawing');
  await page.mouse.move(box.x + box.width * 0.12, box.y + box.height * 0.05);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * 0.85, {
    steps: 4,
  });
  await page.mouse.up();
  const inside = page.getByText(/^\d+ of \d+ inside$/);
  await expect(inside).toBeVisible();
  const [kept = 0, all = 0] = (await inside.innerText()).match(/\d+/g)?.map(Number) ?? [];
  expect(kept).toBeGreaterThan(0);
  expect(kept).toBeLessThan(all);
  await page.getByRole('button', { name: 'all again' }).click();

  // Up to four side by side.
  for (const box of (await page.getByRole('checkbox', { name: /^Compare number/ }).all()).slice(0, 2))
    await box.check();
  await expect(page.getByRole('table', { name: 'Chosen designs side by side' })).toContainText('Net cost');

  // Why not a drive unit of 300 V? The exact rules and figures.
  await page.getByRole('combobox', { name: 'Why not …' }).fill('Skua 35');
  await page.getByRole('option', { name: 'Skua 35 drive unit' }).click();
  await page.getByRole('button', { name: 'ask', exact: true }).click();
  const why = page.getByTestId('why-not');
  await expect(why).toContainText(/None of [\d ]+ combinations with it meets the brief/);
  await expect(why.getByRole('list', { name: 'Findings' }).first()).toContainText(
    'The motor is permanent-magnet synchronous',
  );
  await expect(why).toContainText('The nearest miss with it');

  // One click makes the first a variant, with the figures of the list.
  await table.getByRole('button', { name: '#' }).click();
  const first = await page.getByTestId('match-1').innerText();
  await page.getByRole('button', { name: 'Make number 1 a variant' }).click();
  await expect(page).toHaveURL(/chain\/C$/);
  const cost = /([\d ]+)\sEUR/.exec(first)?.[1]?.trim() ?? 'none';
  await expect(page.getByTestId('claim-budget')).toContainText(cost);
  await expect(page.getByTestId('claim-budget')).toContainText(/met|likely/);
  await saved(page);
  // The answer is still there on the way back.
  await page.getByRole('link', { name: /^3 ?Match/ }).click();
  await expect(page.getByTestId('match-1')).toContainText(cost);
});

test('when nothing qualifies the least that would have to give is said and taken over', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/match/B`);
  await page.getByRole('button', { name: 'Constraints' }).click();
  const budget = page.getByTestId('conditions').getByLabel('Most cost in this search');
  await budget.fill('lots');
  await expect(page.getByText(/"lots" is no number/)).toBeVisible();
  await budget.fill('700');
  await expect(page.getByText(/up to 700 EUR/)).toBeVisible();
  await page.getByRole('button', { name: 'search the library' }).click();
  const out = page.getByTestId('relaxations');
  await expect(out).toContainText(/Most cost in this search.*700 EUR → /, {
    timeout: 90_000,
  });
  await out.getByRole('button', { name: 'Use this value' }).first().click();
  await expect(page.getByText(/conditions have changed since/)).toBeVisible();
  await page.getByRole('button', { name: 'search again' }).click();
  await expect(page.getByTestId('match-1')).toBeVisible();
  // The conditions belong to the conversion.
  await saved(page);
  await page.reload();
  await expect(page.getByText(/up to [1-9]\d* EUR/)).toBeVisible();
  // A contradiction is refused with words and can be mended.
  await page.getByRole('button', { name: 'Constraints' }).click();
  for (const field of ['Parts you own: used, and cost nothing', 'Parts left out']) {
    await page.getByRole('combobox', { name: field }).fill('Winkle 4');
    await page.getByRole('option', { name: 'Winkle 4 pancake' }).click();
  }
  await page.getByRole('button', { name: 'search the library' }).click();
  await expect(page.getByRole('alert')).toContainText('it is excluded at the same time');
});

test('a search is stopped, and what was found until then stays', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/match/A`);
  await page.getByRole('button', { name: 'search the library' }).click();
  await expect(page.getByText(/\d+ simulated, \d+ kept so far/)).toBeVisible();
  await page.getByRole('button', { name: 'stop', exact: true }).click();
  await expect(page.getByText('Stopped. What was found until then is below')).toBeVisible();
  await expect(page.getByRole('table', { name: 'Designs that meet the brief' })).toBeVisible();
});

test('own parts: copied, doubted, changed, offered to a design, retired; files in and out', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/library`);
  await page.getByRole('tab', { name: /Controllers/ }).click();
  const conversion = await demo.find('Pipit');
  const held = (
    (await (await fetch(`${demo.url}/api/v1/conversions/${conversion}`)).json()) as {
      designs: { design: { controller: { name: string } } }[];
    }
  ).designs[1]?.design.controller.name;
  if (!held) throw new Error('no controller');
  await page.getByRole('button', { name: `Copy ${held}` }).click();
  const editor = page.getByRole('dialog');
  await editor.getByLabel('Name').fill(held);
  await editor.getByLabel('Battery current, peak', { exact: true }).fill('20 A');
  await editor.getByLabel('Battery current, continuous', { exact: true }).fill('10');
  await editor.getByLabel('Mass', { exact: true }).fill('0');
  await expect(editor.getByText(/out of range/)).toBeVisible();
  await editor.getByLabel('Mass', { exact: true }).fill('80 lb');
  await editor.getByRole('button', { name: 'add to the library' }).click();
  await page.getByLabel('own only').check();
  // A controller of 36 kg for so few amps is doubted, not refused.
  await expect(page.getByText(/Power for each kilogram is/)).toBeVisible();

  // The design keeps its own copy; the newer record is offered with what it would change.
  await page.goto(`${demo.url}/c/${conversion}/chain/B`);
  const offer = page.getByRole('region', { name: 'Newer records' });
  await expect(offer).toContainText(/battery_current_a: \d+(\.\d+)? → 20/);
  await expect(offer).toContainText('0 to 25 km/h');
  await offer.getByRole('button', { name: 'Use this record' }).click();
  await expect(offer).toHaveCount(0);

  // Files go in whole or not at all.
  await page.goto(`${demo.url}/library`);
  const read = (name: string, text: string) =>
    page.getByLabel('Import', { exact: true }).setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
  await read('parts.csv', 'part,name,weight\nmotor,A,3\n');
  await expect(page.getByRole('alert')).toContainText('row 1, column "weight" is not known');
  const head = 'part,name,output_min_v,output_max_v,output_current_a,output_power_w,efficiency,mass_kg\n';
  await read(
    'parts.csv',
    `${head}charger,Shed charger,48,60,20,1.2 kW,0.9,11 lb\ncharger,Other,48,60,20,1200,0.9,two\n`,
  );
  await expect(page.getByRole('alert')).toContainText('row 3, mass_kg is "two"');
  await read('parts.csv', `${head}charger,Shed charger,48,60,20,1.2 kW,0.9,11 lb\n`);
  await expect(page.getByRole('status')).toContainText('1 added, 0 replaced');
  await page.getByRole('tab', { name: /Chargers/ }).click();
  await expect(page.getByRole('table', { name: 'Chargers' })).toContainText('4.99 kg');
  await page.getByRole('button', { name: 'Retire Shed charger' }).click();
  await page.getByRole('button', { name: 'Remove Shed charger' }).click();
  await expect(page.getByText('No part of your own of this kind yet')).toBeVisible();
});
