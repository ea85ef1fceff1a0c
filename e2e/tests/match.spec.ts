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

  // Approaches that come to the same design are one entry, whatever they are called.
  const bests = page.getByRole('list', { name: 'Best of each approach' }).getByRole('listitem');
  const designs = (await bests.allInnerTexts()).map((t) => t.split('\n').slice(1).join(' '));
  expect(designs.length).toBeGreaterThan(0);
  expect(new Set(designs).size).toBe(designs.length);
  const named = (await bests.allInnerTexts()).map((t) => t.split('\n')[0]).join(', ');
  for (const approach of ['new cells', 'big pack']) expect(named).toContain(approach);

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

  // Pressed, and let go outside before it became a drag: the pointer that comes back draws nothing.
  await page.mouse.move(box.x + box.width * 0.5, box.y + 3);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y - 3);
  await page.mouse.up();
  await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * 0.5, { steps: 3 });
  await page.mouse.move(box.x + box.width * 0.8, box.y + box.height * 0.8, { steps: 3 });
  await page.mouse.down();
  await page.mouse.up();
  await expect(inside).toHaveCount(0);

  // Points open by keys as by a click: one stop of Tab, arrows between them.
  await plot.locator('[tabindex="0"]').focus();
  await expect(plot.locator('[tabindex="0"]')).toHaveCount(1);
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowRight');
  const point = plot.locator(':focus');
  const number = /^Number (\d+): /.exec((await point.getAttribute('aria-label')) ?? '')?.[1] ?? '';
  const rowOf = (number: string) => table.getByRole('button', { name: new RegExp(`^Number ${number}, .*: details$`) });
  await page.keyboard.press('Enter');
  await expect(rowOf(number)).toBeFocused();
  // Also those below the rows drawn, or folded beneath another pack of the same drive.
  const points = await plot.locator('[data-point]').all();
  for (const point of [points[0], points[Math.floor(points.length / 2)], points.at(-1)]) {
    const of = /^Number (\d+): /.exec((await point?.getAttribute('aria-label')) ?? '')?.[1] ?? '';
    // A point that another lies on is reached by keys; the last lies on all others.
    if (point === points.at(-1)) await point?.click();
    else await point?.press('Enter');
    await expect(rowOf(of)).toHaveAttribute('aria-expanded', 'true');
    await expect(rowOf(of)).toBeInViewport();
  }
  await page.keyboard.press('Enter');
  await expect(table.locator('[aria-expanded="true"][aria-label$="details"]')).toHaveCount(0);

  // Up to four side by side.
  for (const box of (await page.getByRole('checkbox', { name: /^Compare number/ }).all()).slice(0, 2))
    await box.check();
  await expect(page.getByRole('table', { name: 'Chosen designs side by side' })).toContainText('Net cost');

  // Why not a unit that drives half-shafts, where there is a chain? And why not a motor of 35 kW? The exact rules and figures.
  const why = page.getByTestId('why-not');
  await page.getByRole('combobox', { name: 'Why not …' }).fill('Skua 35');
  await page.getByRole('option', { name: 'Skua 35 drive unit' }).click();
  await page.getByRole('button', { name: 'ask', exact: true }).click();
  await expect(why).toContainText('drives half-shafts, which this donor has no place for');
  await page.getByRole('combobox', { name: 'Why not …' }).fill('Dulse 35');
  await page.getByRole('option', { name: 'Dulse 35 mid-drive' }).click();
  await page.getByRole('button', { name: 'ask', exact: true }).click();
  await expect(why).toContainText(/None of [\d ]+ combinations with it meets the brief/);
  await expect(why.getByRole('list', { name: 'Findings' }).first()).toContainText(
    'The motor is permanent-magnet synchronous',
  );
  await expect(why).toContainText('The nearest miss with it');

  // A new question takes the place of the last one, unless it is to be added to it.
  const asked = why.locator('.MuiChip-root');
  await expect(asked).toHaveText(['Dulse 35 mid-drive']);
  await why.getByLabel('Modules in series').fill('2');
  await expect(asked).toHaveCount(0);
  await page.getByRole('button', { name: 'ask', exact: true }).click();
  await expect(why.getByRole('status')).toContainText(/Put into that design.* 2s1p /);
  await why.getByLabel('add to the last question').check();
  await page.getByRole('combobox', { name: 'Why not …' }).fill('Skua 35');
  await page.getByRole('option', { name: 'Skua 35 drive unit' }).click();
  await expect(why.getByLabel('Modules in series')).toHaveValue('2');

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
  // So does the answer, which says for what and when it was found.
  await expect(page.getByTestId('match-1')).toBeVisible();
  await expect(page.getByText(/^Found \d+ \w+ \d{4}, \d\d:\d\d, for this very brief/)).toBeVisible();
  // A contradiction is refused with words and can be mended.
  await page.getByRole('button', { name: 'Constraints' }).click();
  for (const field of ['Parts you own: used, and cost nothing', 'Parts left out']) {
    await page.getByRole('combobox', { name: field }).fill('Winkle 4');
    await page.getByRole('option', { name: 'Winkle 4 pancake' }).click();
  }
  // What was found before is marked as found for something else.
  await expect(page.getByText(/conditions have changed since/)).toBeVisible();
  await page.getByRole('button', { name: 'search again' }).click();
  await expect(page.getByRole('alert')).toContainText('it is excluded at the same time');
});

test('a missed goal says what would meet it for the least money, and a click tries it beside the design', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/brief/B`);
  const range = page.getByLabel('Range at least').first();
  await expect(page.getByTestId('claim-range')).toContainText(/met|likely/);
  await expect(page.getByTestId('fix-range')).toBeHidden();
  await range.fill('110');
  await range.press('Tab');
  await expect(page.getByTestId('claim-range')).toContainText('missed');
  // What follows below stays where it is while the change is looked for, so that a click meets what it was aimed at.
  const strip = page.getByRole('region', { name: 'Claims' });
  const before = (await strip.boundingBox())?.height;
  const fix = page.getByTestId('fix-range');
  await expect(fix).toContainText(/^try .+, [+−][\d ]+ EUR/);
  expect((await strip.boundingBox())?.height).toBe(before);
  await fix.press('Enter');
  await expect(page).toHaveURL(/\/brief\/[C-Z]$/);
  await expect(page.getByTestId('claim-range')).toContainText(/met|likely|unlikely/);
  await expect(page.getByTestId('claim-range')).not.toContainText('missed');
  // A goal met again by asking less needs no change.
  await range.fill('30');
  await range.press('Tab');
  await expect(page.getByTestId('fix-range')).toBeHidden();
  await saved(page);
});

test('a long list is shortened by what nobody asked about, which is said and undone', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/match/B`);
  await page.getByRole('button', { name: 'Constraints' }).click();
  const most = page.getByTestId('conditions').getByLabel('List about at most');
  await most.fill('3');
  await expect(page.getByText(/3 is out of range; 5 to 10.000 designs accepted/)).toBeVisible();
  await most.fill('10');
  await page.getByRole('button', { name: 'search the library' }).click();
  const said = page.getByTestId('widened');
  await expect(said).toContainText(/count as alike: Hill at .+ (within \d+ %|up to \d+\.\d times)/);
  const listed = async () =>
    Number(/(\d+) designs/.exec(await page.getByRole('link', { name: /^3 ?Match/ }).innerText())?.[1]);
  const few = await listed();
  await said.getByRole('button', { name: 'Tell them apart more closely' }).click();
  await expect(page.getByTestId('conditions').getByLabel('List about at least')).toHaveValue(String(few + 1));
  await page.getByRole('button', { name: 'search again' }).click();
  await expect.poll(listed).toBeGreaterThan(few);
  const more = await listed();
  await said.getByRole('button', { name: 'List them all' }).click();
  await expect(most).toHaveValue(/10\D?000/);
  await page.getByRole('button', { name: 'search again' }).click();
  await expect(said).toBeHidden();
  await expect.poll(listed).toBeGreaterThan(more);
  await saved(page);
});

test('a speed and a power that must not be exceeded are asked for, judged and kept by the search', async ({
  demo,
  watched: page,
}) => {
  await page.goto(`${demo.url}/c/${await demo.find('Pipit')}/brief/B`);
  for (const goal of ['Top speed, limited', 'Power, limited']) {
    await page.getByRole('combobox', { name: 'Add a goal' }).click();
    await page.getByRole('option', { name: goal }).click();
  }
  const [speed, power] = [page.getByLabel('Top speed at most'), page.getByLabel('Power at most')];
  await speed.fill('40');
  await power.fill('1');
  await power.press('Tab');
  // 45 km/h is too fast, and a kilowatt less than reaches the shaft.
  const claim = (name: string) => page.getByRole('button', { name: new RegExp(`^${name}: missed`) });
  await expect(claim('Top speed, limited')).toBeVisible();
  await expect(claim('Greatest power, limited')).toBeVisible();
  // A licence counts the continuous rating: 4 kW.
  await power.fill('4.5');
  await page.getByLabel('counted as').click();
  await page.getByRole('option', { name: 'continuous rating' }).click();
  await expect(page.getByRole('button', { name: /^Rated power, limited: (met|likely)/ })).toBeVisible();
  await saved(page);
  await page.getByRole('link', { name: /^3 ?Match/ }).click();
  await page.getByRole('button', { name: 'search the library' }).click();
  await expect(page.getByTestId('match-1')).toBeVisible();
  await page.getByRole('button', { name: 'Make number 1 a variant' }).click();
  await expect(page.getByRole('button', { name: /^Top speed, limited: (met|likely)/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Rated power, limited: (met|likely)/ })).toBeVisible();
});

test('a search is stopped, and what was found until then stays', async ({ demo, watched: page }) => {
  await page.goto(`${demo.url}/c/${await demo.find('Whimbrel')}/match/A`);
  await page.getByRole('button', { name: 'search the library' }).click();
  await expect(page.getByText(/\d+ simulated, [1-9]\d* kept so far/)).toBeVisible();
  await page.getByRole('button', { name: 'stop', exact: true }).click();
  await expect(page.getByText(/Stopped\. .*better ones may be missing/i)).toBeVisible();
  await expect(page.getByText('as far as it went')).toBeVisible();
  await expect(page.getByText('the search goes on')).toHaveCount(0);
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
  await expect(offer).toContainText(/Battery current, peak: \d+(\.\d+)? A → 20 A/);
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
