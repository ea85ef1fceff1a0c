import { expect, saved, test } from '../service.js';

test('from candidates to a donor, taken apart, its pack in two bays by the finder, and the electrics with their cables', async ({
  demo,
  watched: page,
}) => {
  test.setTimeout(120_000);
  const id = await demo.find('Whimbrel');
  await page.goto(`${demo.url}/c/${id}/donor/C`);
  const list = page.getByRole('region', { name: 'Candidates' });
  // One of those that were looked at becomes the donor, with the van's own chain.
  await list.getByLabel('a chain chosen for each').uncheck();
  await expect(list.getByTestId('candidate-turnstone')).toContainText('with the chain in hand');
  await list.getByRole('button', { name: 'Make Turnstone estate the donor' }).click();
  await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toHaveValue('Turnstone estate');

  // Taken apart: what is sold is money in hand, what is hoped for is none.
  const out = page.getByRole('region', { name: 'Taken out' });
  await expect(out).toContainText('340 EUR hoped for');
  await out.getByLabel('It is').first().click();
  await page.getByRole('option', { name: 'sold', exact: true }).click();
  await expect(out).toContainText('Sold for 300 EUR; 40 EUR hoped for');
  await saved(page);

  // Two bays are measured; the pack hangs behind the rear axle, where its plate does not allow it.
  await page.getByRole('link', { name: /Layout/ }).click();
  const room = page.getByRole('region', { name: 'Room for the pack' });
  for (const [i, [name, size, along]] of (
    [
      ['under the seats', ['0.7', '1.1', '0.3'], '1.2'],
      ['under the bonnet', ['0.7', '0.9', '0.3'], '0'],
    ] as const
  ).entries()) {
    await room.getByRole('button', { name: 'Add a bay' }).click();
    const bay = page.getByTestId(`bay-${String(i)}`);
    await bay.getByLabel('Bay', { exact: true }).fill(name);
    for (const [j, label] of (['Length', 'Width', 'Height'] as const).entries())
      await bay.getByLabel(label).fill(size[j] ?? '');
    await bay.getByLabel('Its middle').click();
    await page.getByRole('option', { name: 'by its distance' }).click();
    await bay.getByLabel('Behind the front axle').fill(along);
    await expect(bay).toContainText('module');
  }
  await page.locator('[data-block="side:design.layout.pack"]').click();
  const pack = page.getByRole('region', { name: 'Pack', exact: true });
  await pack.getByRole('textbox', { name: 'Behind the front axle' }).fill('2.9');
  await page.getByRole('link', { name: /Donor/ }).click();
  await page.getByRole('textbox', { name: 'Rated rear axle mass' }).fill('760');
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  const findings = page.getByRole('main');
  await expect(findings).toContainText('The rear axle comes to');
  await page.getByRole('link', { name: /Electrics/ }).click();
  const cable = page.getByText(/m of traction cable there and back by their places in the layout/);
  const before = await cable.textContent();

  // The finder knows better places; taken, the plate is kept, and the electrics count the shorter way.
  await page.getByRole('link', { name: /Layout/ }).click();
  const spread = page.getByRole('region', { name: 'The pack over the bays' });
  await spread.getByRole('button', { name: 'Spread the pack over the bays' }).click();
  const first = spread.getByRole('row').nth(1);
  await expect(first).toContainText('none');
  await first.getByRole('button', { name: /^Take / }).click();
  await saved(page);
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(findings).not.toContainText('The rear axle comes to');
  await page.getByRole('link', { name: /Electrics/ }).click();
  await expect.poll(() => cable.textContent()).not.toBe(before);
});
