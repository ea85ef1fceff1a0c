// What the interface says of goals, parts, searches and pasted rows, without a browser.
import assert from 'node:assert/strict';
import { readFileSync, readdirSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import type { ConversionSummary } from '../../web/src/api/types';
import { type Order, sifted } from '../../web/src/stages/list/sifted';
import fc from 'fast-check';
import { Refusal, Unreachable, reach, refusalLines, unwrap } from '../../web/src/api/client';
import type { Band, Brief, Match, MatchRequest, Measure, Part, ProblemDocument } from '../../web/src/api/types';
import { absentWord, bandWords, verdicts } from '../../web/src/common/claims';
import { blank, copyOf, groups, modelKeys, models, motorKinds, chemistries } from '../../web/src/parts/records';
import { changeWords } from '../../web/src/parts/changes';
import { curvePoints, rows } from '../../web/src/parts/rows';
import { summary } from '../../web/src/parts/summary';
import {
  measureKinds,
  newMeasure,
  newTrip,
  schedules,
  usesOfSocket,
  usesOfTrip,
} from '../../web/src/stages/brief/measures';
import { newOuting, newStay } from '../../web/src/stages/charge/plan';
import { clock, dayAndClock, duration, hourOf, weekdays } from '../../web/src/units/week';
import { freshId } from '../../web/src/workbench/ids';
import {
  conditionWords,
  count,
  figure,
  motorWords,
  packWords,
  stepWords,
  valueOf,
  whole,
} from '../../web/src/stages/match/words';
import { field, keysOf, inputText, parse } from '../../web/src/units/units';

const schema = JSON.parse(readFileSync(new URL('../../web/src/api/openapi.json', import.meta.url), 'utf8')) as {
  components: {
    schemas: Record<string, { enum?: string[]; oneOf?: { properties?: { kind?: { enum?: string[] } } }[] }>;
  };
};
const words = (name: string) => schema.components.schemas[name]?.enum ?? [];
const demos = readdirSync(new URL('../../demo/', import.meta.url))
  .filter((f) => f.endsWith('.json'))
  .map(
    (f) =>
      JSON.parse(readFileSync(new URL(`../../demo/${f}`, import.meta.url), 'utf8')) as {
        brief?: Brief;
        design?: Record<string, unknown>;
      },
  )
  .filter((d) => d.brief && d.design);

test('every kind that the service knows has a word on screen, and no other', () => {
  expect(Object.keys(schedules).sort()).toEqual([...words('Schedule')].sort());
  expect(motorKinds.map(([k]) => k).sort()).toEqual([...words('MotorKind')].sort());
  expect(chemistries.map(([k]) => k).sort()).toEqual([...words('Chemistry')].sort());
  expect(Object.keys(verdicts).sort()).toEqual([...words('Verdict')].sort());
  const kindsOf = (name: string) =>
    (schema.components.schemas[name]?.oneOf ?? []).flatMap((o) => o.properties?.kind?.enum ?? []);
  expect(Object.keys(measureKinds).sort()).toEqual(kindsOf('Measure').sort());
  expect(models.map(([k]) => k).sort()).toEqual(kindsOf('MotorModel').sort());
});

test('every number of a goal, and of a motor, is in the catalogue', () => {
  for (const { keys } of Object.values(measureKinds)) expect(keys.length).toBeGreaterThan(0);
  for (const { keys } of Object.values(measureKinds))
    for (const key of keys) expect(field('Measure', key).label).not.toBe('');
  for (const key of Object.values(modelKeys).flat()) expect(keysOf('MotorModel')).toContain(key);
  for (const group of Object.values(groups)) expect(keysOf(group).length).toBeGreaterThan(5);
});

test('a new goal lies within the bounds of its fields and names what the brief has', () => {
  const briefs: Brief[] = [
    ...demos.map((d) => d.brief as Brief),
    {} as Brief,
    { schedules: ['udds'] } as unknown as Brief,
  ];
  for (const brief of briefs) {
    for (const [kind, system] of (Object.keys(measureKinds) as Measure['kind'][]).flatMap((k) =>
      (['metric', 'imperial', 'mix'] as const).map((s) => [k, s] as const),
    )) {
      const made = newMeasure(kind, brief, system) as Record<string, unknown> & Measure;
      expect(made.kind).toBe(kind);
      for (const key of measureKinds[kind].keys) {
        const of = field('Measure', key);
        const read = parse(inputText(Number(made[key]), of, 'metric'), of, 'metric');
        expect('value' in read, `${kind}.${key}: ${JSON.stringify(read)}`).toBe(true);
      }
      const trips = [...(brief.trips ?? []).map((t) => t.id), ...(brief.schedules ?? [])];
      if ('trip' in made) expect(trips.length === 0 ? [''] : trips).toContain(made.trip);
    }
  }
});

test('an id that is made is never one that is taken', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.integer({ min: 1, max: 12 }).map((n) => `trip-${String(n)}`),
        { maxLength: 12 },
      ),
      (taken) => {
        assert.ok(!taken.includes(freshId('trip', taken)));
        assert.ok(!taken.includes(newTrip(taken, 'metric').id));
      },
    ),
  );
});

test('pasted rows are read, or the line that is none is named', () => {
  expect(rows('0, 150\n\n2500\t150\n 8000;52 ', [2, 3])).toEqual([
    [0, 150],
    [2500, 150],
    [8000, 52],
  ]);
  expect(rows('0 150\n1000 nine', [2])).toBe('line 2: "1000 nine" is not 2 numbers');
  expect(rows('1 2 3 4', [2, 3])).toBe('line 1: "1 2 3 4" is not 2 or 3 numbers');
  expect(
    curvePoints([
      [1000, 90, 91],
      [2000, 80, 0.88],
      [3000, 70],
    ]),
  ).toEqual([
    { speed_rpm: 1000, torque_nm: 90, efficiency: 0.91 },
    { speed_rpm: 2000, torque_nm: 80, efficiency: 0.88 },
    { speed_rpm: 3000, torque_nm: 70 },
  ]);
  fc.assert(
    fc.property(
      fc.array(fc.array(fc.double({ noNaN: true, noDefaultInfinity: true }), { minLength: 2, maxLength: 3 }), {
        maxLength: 8,
      }),
      (table) => {
        const text = table.map((r) => r.map(String).join(' ')).join('\n');
        assert.deepEqual(
          rows(text, [2, 3]),
          table.map((r) => r.map((x) => Number(String(x)))),
        );
      },
    ),
  );
});

test('a part is told in one line, in every system of units', () => {
  const parts = demos.flatMap((d) =>
    (['motor', 'controller', 'charger'] as const)
      .filter((k) => d.design?.[k])
      .map((k) => ({ part: k, ...(d.design?.[k] as object) }) as unknown as Part)
      .concat(
        d.design?.pack
          ? [{ part: 'module', ...((d.design.pack as { module: object }).module as object) } as unknown as Part]
          : [],
      ),
  );
  expect(parts.length).toBeGreaterThan(8);
  for (const part of parts) {
    for (const system of ['metric', 'imperial', 'mix'] as const) {
      const line = summary(part, system);
      expect(line, line).not.toMatch(/undefined|NaN|null|\[object/);
      expect(line.split(' · ').length).toBeGreaterThanOrEqual(3);
      if (system === 'metric') expect(line).not.toContain(' lb');
    }
    expect(summary(part, 'imperial')).toContain(' lb');
    expect((copyOf(part) as { name: string }).name).toBe(`${part.name}, own`);
  }
  const used = { ...parts.find((p) => p.part === 'module'), capacity_share: 0.82 } as unknown as Part;
  expect(summary(used, 'metric')).toContain('82 % of its capacity left');
  for (const kind of Object.keys(blank)) expect((blank as Record<string, { part: string }>)[kind]?.part).toBe(kind);
});

const match = {
  cost: 6123.4,
  range_km: null,
  acceleration_s: 12.5,
  added_kg: 80,
  charge_h: null,
  hill_percent: 18,
  layout: '16s2p',
  chemistry: 'LFP',
  salvaged: true,
  usable_kwh: 9.8,
  pick: { motor: 'Tern 9', motor_count: 2 },
} as unknown as Match;

test('a match is told by its figures, and what is never reached says so', () => {
  expect(
    ['cost', 'range', 'acceleration', 'added_mass', 'charge', 'hill'].map((a) => valueOf(match, a as 'cost')),
  ).toEqual([6123.4, null, 12.5, 80, null, 18]);
  expect(figure(6123.4, 'money', 'metric', 'EUR')).toEqual({ text: '6 123', unit: 'EUR' });
  expect(figure(null, 'km', 'metric', 'EUR')).toEqual({ text: 'never', unit: '' });
  expect(figure(100, 'km', 'imperial', 'EUR').unit).toBe('mi');
  expect(packWords(match, 'metric')).toBe('16s2p LFP, salvaged, 9.8 kWh usable');
  expect(motorWords(match)).toBe('2 × Tern 9');
});

test('counts read as a person would say them', () => {
  expect([count(1, 'design'), count(2, 'design'), count(1234, 'way', 'ways')]).toEqual([
    '1 design',
    '2 designs',
    '1 234 ways',
  ]);
  expect([whole(999), whole(1e6), whole(1_886_784_000)]).toEqual(['999', '1 million', '1.89 billion']);
});

test('the conditions of a search are all told', () => {
  expect(conditionWords({} as MatchRequest, 'EUR')).toBe('every part in the library, every way of gearing');
  const all = {
    in_hand: ['a'],
    exclude: ['b', 'c'],
    current: 'direct',
    cells: 'salvaged',
    pack: { approach: 'small', range_share: 0.5, charge_h: 2 },
    gearings: ['x', 'y'],
    budget: 5000,
    most_added_kg: 40,
    certainty: 'p10',
    allow: ['rule'],
  } as unknown as MatchRequest;
  expect(conditionWords(all, 'EUR')).toBe(
    'owned: a; without b, c; direct current; salvaged cells; small pack: 50 % of the range, full again in 2 h; 2 ways of gearing; ' +
      'up to 5000 EUR; at most 40 kg added; nine samples in ten; 1 warning allowed',
  );
});

test('a band is told by its ends, also where one is never reached', () => {
  const figureText = (value: number, unit: string) => ({ text: value.toFixed(1), unit });
  const band = (id: string, p10: number | null, p90: number | null) =>
    ({ id, unit: 'km', p10, p50: null, p90 }) as unknown as Band;
  expect(bandWords(band('trip.a.range_km', 66.7, 79.6), figureText)).toBe('66.7 to 79.6');
  expect(bandWords(band('trip.a.range_km', null, 79.6), figureText)).toBe('not followed to 79.6');
  expect(bandWords(band('acceleration.0-50', null, null), figureText)).toBe('not reached');
  expect([absentWord('trip.x.range_km'), absentWord('acceleration.0-50')]).toEqual(['not followed', 'not reached']);
});

test('answers of the service are told apart: done, refused, out of reach', async () => {
  const response = (status: number) => new Response(null, { status });
  expect(unwrap({ data: 5, response: response(200) })).toBe(5);
  const problem = {
    status: 422,
    title: 't',
    detail: 'too heavy',
    problems: [{ path: 'a', message: 'a is 5; 1 to 3 accepted' }],
  } as unknown as ProblemDocument;
  const thrown = (call: () => unknown): unknown => {
    try {
      call();
    } catch (error) {
      return error;
    }
    return null;
  };
  const refused = thrown(() => unwrap({ error: problem, response: response(422) }));
  expect(refused).toBeInstanceOf(Refusal);
  expect(refusalLines(refused)).toEqual(['a is 5; 1 to 3 accepted']);
  expect(refusalLines(new Refusal({ ...problem, problems: [] }))).toEqual(['too heavy']);
  expect(refusalLines('what')).toEqual(['refused']);
  // Something in between answered: a proxy's page, or a service whose database is away.
  for (const status of [400, 502, 503]) {
    const body = status === 400 ? '<html>' : problem;
    expect(
      thrown(() => unwrap({ error: body, response: response(status) })),
      String(status),
    ).toBeInstanceOf(Unreachable);
  }
  await expect(reach(() => Promise.reject(new TypeError('fetch failed')))).rejects.toBeInstanceOf(Unreachable);
  await expect(reach(() => Promise.reject(new Refusal(problem)))).rejects.toBeInstanceOf(Refusal);
  expect(await reach(() => Promise.resolve(7))).toBe(7);
});

test('the list is searched by every word of name, kind and notes, and sorted', () => {
  const all = [
    { name: 'Wren 10', kind: 'off_road', notes: 'orchard', updated_at: '2026-11-02T10:00:00Z' },
    { name: 'Wren 9', kind: 'kart', notes: '', updated_at: '2026-11-03T10:00:00Z' },
    { name: 'Pipit', kind: 'trike', notes: 'market, orchard', updated_at: '2026-11-01T10:00:00Z' },
  ] as unknown as ConversionSummary[];
  const names = (sought: string, order: Order) => sifted(all, sought, order).map((c) => c.name);
  expect(names('', 'changed')).toEqual(['Wren 9', 'Wren 10', 'Pipit']);
  expect(names('', 'name')).toEqual(['Pipit', 'Wren 9', 'Wren 10']);
  expect(names('ORCHARD  wren', 'kind')).toEqual(['Wren 10']);
  expect(names('three', 'kind')).toEqual(['Pipit']);
  expect(names('boat', 'name')).toEqual([]);
});

test('hours read as a clock shows them, and a clock is read back', () => {
  expect([0, 7.5, 23.99, 24].map(clock)).toEqual(['00:00', '07:30', '23:59', '00:00']);
  expect(['07:30', '7:05', '24:00', '12:60', '12', 'noon', ''].map(hourOf)).toEqual([
    7.5,
    7 + 5 / 60,
    undefined,
    undefined,
    undefined,
    undefined,
    undefined,
  ]);
  expect([0, 31.25, 167.5, 168, -1].map(dayAndClock)).toEqual([
    'Mo 00:00',
    'Tu 07:15',
    'Su 23:30',
    'Mo 00:00',
    'Su 23:00',
  ]);
  expect([0, 0.999, 4.67, 26.5].map(duration)).toEqual(['0 h 00', '1 h 00', '4 h 40', '26 h 30']);
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 24 * 60 - 1 }), (minutes) => {
      const hour = minutes / 60;
      assert.ok(Math.abs((hourOf(clock(hour)) ?? -1) - hour) < 1e-9, clock(hour));
    }),
  );
});

test('what the week adds has ids of its own and the days that the service knows', () => {
  expect(weekdays.map((d) => d.id)).toEqual([...words('Weekday')]);
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 9 }), { maxLength: 9 }), (taken) => {
      const outings = taken.map((n) => ({ ...newOuting({}, 't'), id: `outing-${String(n)}` }));
      const stays = taken.map((n) => ({ ...newStay({}, 's'), id: `stay-${String(n)}` }));
      assert.ok(!outings.some((o) => o.id === newOuting({ outings }, 't').id));
      assert.ok(!stays.some((o) => o.id === newStay({ stays }, 's').id));
    }),
  );
});

test('a trip or a socket that the brief speaks of is kept, and says why', () => {
  for (const { brief } of demos) {
    const b = brief as Brief;
    for (const o of b.week?.outings ?? []) expect(usesOfTrip(b, o.trip)).not.toBe('');
    for (const j of b.years?.journeys ?? []) expect(usesOfTrip(b, j.trip)).not.toBe('');
    for (const s of b.week?.stays ?? []) expect(usesOfSocket(b, s.socket)).not.toBe('');
    for (const g of b.goals ?? []) {
      if ('trip' in g.measure) expect(usesOfTrip(b, g.measure.trip)).toContain('goal');
      if ('socket' in g.measure) expect(usesOfSocket(b, g.measure.socket)).toContain('goal');
    }
    expect(usesOfTrip(b, 'nowhere')).toBe('');
    expect(usesOfSocket(b, 'nowhere')).toBe('');
  }
});

test('what differs of a record is told by the labels and units of its fields, never by its keys', () => {
  const change = (key: string, was: string, is: string) => changeWords({ key, was, is }, 'imperial');
  assert.equal(change('mass_kg', '10', ''), 'Mass: 22.05 lb → not said');
  assert.equal(change('price', '120', '95.5'), 'Price: 120 → 95.5');
  assert.equal(change('sources.mass_kg.from', '', 'datasheet'), 'Mass, source: not said → datasheet');
  assert.equal(change('kind', 'series_dc', 'induction'), 'kind: series_dc → induction');
  // A step beyond the figure itself is told as how many times.
  assert.equal(stepWords(25, 'Cost'), 'Cost within 25 %');
  assert.equal(stepWords(376, 'Cost'), 'Cost up to 4.8 times as high');
});
