import { Agent, request } from 'node:http';
import { expect, test } from '../service.js';
import { ms, quantile, report } from './report.js';

interface Conversion {
  id: string;
  version: number;
  brief: { trips: Record<string, unknown>[] };
  donor: unknown;
  shortlist: unknown;
  designs: { id: string; version: number; design: unknown }[];
}

const post = (url: string, body: string, client = 'bench', signal?: AbortSignal) =>
  fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-joulethesis-client': client },
    body,
    signal: signal ?? null,
  });

/** One keep-alive connection each, bodies and answers as text, so that the service is measured and not the client. */
const agents = Array.from({ length: 50 }, () => new Agent({ keepAlive: true, maxSockets: 1 }));
const put = (url: string, client: number, body: string) =>
  new Promise<{ status: number; version: number }>((resolve, reject) => {
    const headers = { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
    const asked = request(url, { method: 'PUT', headers, agent: agents[client] }, (answer) => {
      let text = '';
      answer.setEncoding('utf8');
      answer.on('data', (piece: string) => (text += piece));
      answer.on('end', () => {
        const version = /"(?:current_)?version":(\d+)/.exec(text)?.[1] ?? '0';
        resolve({ status: answer.statusCode ?? 0, version: Number(version) });
      });
    });
    asked.on('error', reject);
    asked.end(body);
  });

test('estimates beside long work, and what those who leave keep busy', async ({ demo }) => {
  const read = async (name: string) => {
    const list = (await (await fetch(`${demo.url}/api/v1/conversions/${await demo.find(name)}`)).json()) as Conversion;
    return (await (await fetch(`${demo.url}/api/v1/designs/${list.designs[0]?.id ?? ''}/document`)).json()) as {
      brief: { trips: Record<string, unknown>[] };
    };
  };
  const van = await read('Whimbrel');
  const [short, trike] = [JSON.stringify(van), JSON.stringify(await read('Pipit'))];
  // Near the most that a document may simulate.
  van.brief.trips.push({ ...van.brief.trips[0], id: 'long', repeat: 40 });
  const long = JSON.stringify(van);
  const search = JSON.stringify({ document: await read('Dunlin') });
  const estimates = async (runs: number) => {
    const times: number[] = [];
    for (let i = 0; i < runs; i += 1) {
      const start = performance.now();
      const answer = await post(`${demo.url}/api/v1/estimate`, short, 'somebody else');
      await answer.arrayBuffer();
      expect(answer.status).toBe(200);
      times.push(performance.now() - start);
    }
    return times.slice(Math.min(5, runs - 1));
  };
  report('estimate, nothing else to do', await estimates(45));
  const leave = new AbortController();
  const others = Array.from({ length: 18 }, (_, i) =>
    post(
      i % 3 === 0 ? `${demo.url}/api/v1/match` : `${demo.url}/api/v1/bands`,
      i % 3 === 0 ? search : long,
      `client-${String(i % 4)}`,
      leave.signal,
    )
      .then((a) => a.arrayBuffer())
      .catch(() => null),
  );
  await new Promise((r) => setTimeout(r, 500));
  report('estimate beside 18 searches and bands', await estimates(45));
  leave.abort();
  const start = performance.now();
  await (await post(`${demo.url}/api/v1/bands`, trike)).arrayBuffer();
  const first = performance.now() - start;
  await Promise.all(others);
  const again = performance.now();
  await (await post(`${demo.url}/api/v1/bands`, trike)).arrayBuffer();
  console.log(
    `bands as soon as all of these have left: ${ms(first)}; with nothing before it: ${ms(performance.now() - again)}`,
  );
});

test('edits', async ({ demo }) => {
  const sample = (await (
    await fetch(`${demo.url}/api/v1/conversions/${await demo.find('Whimbrel')}`)
  ).json()) as Conversion;
  const file = await (await fetch(`${demo.url}/api/v1/conversions/${sample.id}/file`)).text();
  const added: Conversion[] = [];
  for (let i = 0; i < 16; i += 1)
    added.push((await (await post(`${demo.url}/api/v1/conversions/import`, file)).json()) as Conversion);
  const times: number[] = [];
  const begin = performance.now();
  await Promise.all(
    added.map(async (c, client) => {
      const design = c.designs[0];
      if (!design) return;
      let { version } = design;
      const body = `"design":${JSON.stringify(design.design)}}`;
      while (performance.now() - begin < 6000) {
        const start = performance.now();
        const answer = await put(
          `${demo.url}/api/v1/designs/${design.id}`,
          client,
          `{"version":${String(version)},${body}`,
        );
        if (answer.status !== 200) throw new Error(String(answer.status));
        version = answer.version;
        times.push(performance.now() - start);
      }
    }),
  );
  const seconds = (performance.now() - begin) / 1000;
  console.log(
    `edits of 16 designs at once: ${(times.length / seconds).toFixed(0)} each second, 99th percentile ${ms(quantile(times, 0.99))}`,
  );

  let refused = 0;
  const rest = JSON.stringify({
    name: 'Whimbrel',
    units: 'metric',
    brief: sample.brief,
    donor: sample.donor,
    shortlist: sample.shortlist,
  }).slice(1);
  const start = performance.now();
  const waits = await Promise.all(
    Array.from({ length: 50 }, async (_, i) => {
      let version = sample.version;
      for (;;) {
        const change = `{"version":${String(version)},"notes":"${String(i)}",${rest}`;
        const answer = await put(`${demo.url}/api/v1/conversions/${sample.id}`, i, change);
        if (answer.status === 200) return performance.now() - start;
        if (answer.status !== 409) throw new Error(String(answer.status));
        refused += 1;
        version = answer.version;
      }
    }),
  );
  console.log(
    `fifty clients saving one brief: all saved after ${ms(Math.max(...waits))}, ${String(refused)} told that they came late`,
  );
});
