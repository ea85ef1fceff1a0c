// How claims are judged and searches followed, without a browser.
import { expect, test } from '@playwright/test';
import type { Bands, Claim, Document, MatchRequest } from '../../web/src/api/types';
import { judge } from '../../web/src/workbench/judge';
import { askedFor, searchOf, startSearch, stopSearch } from '../../web/src/workbench/searches';

test('a verdict follows the samples of this edit and of no other', () => {
  const claim = { goal: 'g', figure: 'top_speed_kmh', verdict: 'met' } as Claim;
  const bands = {
    samples: 256,
    bands: [{ id: 'top_speed_kmh', p10: 60, p50: 70, p90: 80 }],
    odds: [
      {
        goal: 'g',
        figure: 'top_speed_kmh',
        probability: 0.6,
        verdict: 'likely',
      },
    ],
  } as unknown as Bands;
  expect(judge([claim], bands, true)[0]).toMatchObject({
    verdict: 'likely',
    probability: 0.6,
    band: { p90: 80 },
  });
  // Neither band nor verdict of the edit before stands beside a figure of this one.
  expect(judge([claim], bands, false)[0]).toMatchObject({ verdict: 'met', probability: null, band: undefined });
  expect(judge([{ ...claim, verdict: 'cannot_tell' }], bands, true)[0]?.verdict).toBe('cannot_tell');
  expect(judge([claim], undefined, true)[0]).toMatchObject({
    verdict: 'met',
    band: undefined,
  });
});

const network = globalThis.fetch;
test.afterEach(() => {
  globalThis.fetch = network;
});

/** Answers the next search with these events, then hangs if `open`. */
function answering(events: [string, unknown][], open = false) {
  globalThis.fetch = (_, init) => {
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        for (const [event, data] of events)
          controller.enqueue(new TextEncoder().encode(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`));
        if (!open) controller.close();
        init?.signal?.addEventListener('abort', () => {
          controller.error(new DOMException('stopped', 'AbortError'));
        });
      },
    });
    return Promise.resolve(new Response(body, { headers: { 'content-type': 'text/event-stream' } }));
  };
}

test('a search tells how far it is, keeps what it found when stopped, and says why it failed', async () => {
  const document = {
    brief: {},
    donor: {},
    design: { motor: { name: 'm' } },
  } as unknown as Document;
  const request = { budget: 5 } as MatchRequest;
  answering([
    ['progress', { simulated: 3 }],
    ['answer', { designs: [] }],
  ]);
  await startSearch('one', document, request);
  expect(searchOf('one')).toMatchObject({
    running: false,
    progress: { simulated: 3 },
    answer: { designs: [] },
    error: null,
  });
  // What narrower steps take up again does not lead the bar back.
  answering([
    ['progress', { left: 20, total: 100 }],
    ['progress', { left: 60, total: 100 }],
  ]);
  await startSearch('one', document, request);
  expect(searchOf('one').decided).toBe(0.8);
  // It belongs to brief, donor and conditions, not to the parts chosen.
  const other = {
    ...document,
    design: { ...document.design, motor: { name: 'n' } },
  } as unknown as Document;
  expect(searchOf('one').asked).toBe(askedFor(other, request));
  expect(searchOf('one').asked).not.toBe(askedFor(document, { budget: 6 } as MatchRequest));
  // Nor to where things sit; what they weigh counts.
  const placed = (kg: number, at?: object) =>
    askedFor(
      {
        brief: {},
        donor: { removed: [{ name: 'e', mass_kg: 90, at }], ...(at && { track_front_m: 1.4, tyre_load_index: 80 }) },
        design: { added: [{ name: 'a', mass_kg: kg, price: 1, at }], ...(at && { layout: { pack: at } }) },
      } as unknown as Document,
      request,
    );
  expect(placed(5, { up_m: 0.4 })).toBe(placed(5));
  expect(placed(6, { up_m: 0.4 })).not.toBe(placed(5));

  answering([['progress', { simulated: 4 }]], true);
  const running = startSearch('two', document, request);
  await expect.poll(() => searchOf('two').progress).toEqual({ simulated: 4 });
  stopSearch('two');
  await running;
  expect(searchOf('two')).toMatchObject({
    running: false,
    stopped: true,
    progress: { simulated: 4 },
    error: null,
  });

  answering([['problem', { detail: 'too large', status: 422, problems: [] }]]);
  await startSearch('three', document, request);
  expect(searchOf('three').error?.message).toBe('too large');
  globalThis.fetch = () => Promise.reject(new TypeError('failed'));
  await startSearch('four', document, request);
  expect(searchOf('four').error?.message).toBe('The service does not answer.');
  expect(searchOf('never').running).toBe(false);
});
