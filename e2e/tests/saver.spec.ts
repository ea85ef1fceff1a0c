// The saving of a draft against a model: two windows and a stored conversion, with requests and answers that get lost in any order.
import assert from 'node:assert/strict';
import { expect, test } from '@playwright/test';
import fc from 'fast-check';
import { Refusal, Unreachable } from '../../web/src/api/client';
import type { Conversion, Design, ProblemDocument } from '../../web/src/api/types';
import { type Draft, savedOf } from '../../web/src/workbench/draft';
import { type Json, merge, same } from '../../web/src/workbench/merge';
import { KeptEdits, knownOf, type LeftOver } from '../../web/src/workbench/kept';
import { type Head, type SaveState, Saver, type Stored } from '../../web/src/workbench/saver';
import { boxOf } from '../box';

const VARIANTS = ['a', 'b'];

/** The stored rows, each with its version, and a line to them that loses what it is told to lose. */
class Service {
  head: Head = { name: 'Van', notes: '', units: 'metric', brief: {}, donor: {} } as unknown as Head;
  version = 1;
  designs = new Map(VARIANTS.map((id) => [id, { version: 1, design: {} as Design }]));
  /** What happens to the next writes: nothing by default. */
  fate: ('ok' | 'request lost' | 'answer lost' | 'busy')[] = [];

  conversion(): Conversion {
    const designs = [...this.designs].map(([id, d]) => ({ id, label: id.toUpperCase(), ...d }));
    return structuredClone({ id: 'c', version: this.version, ...this.head, designs }) as unknown as Conversion;
  }

  private async line<T>(act: () => T): Promise<T> {
    const fate = this.fate.shift() ?? 'ok';
    await Promise.resolve();
    if (fate === 'request lost') throw new Unreachable('lost');
    if (fate === 'busy') throw new TypeError('failed to fetch');
    const answer = act();
    await Promise.resolve();
    if (fate === 'answer lost') throw new Unreachable('lost');
    return answer;
  }

  private static stale(seen: number, current: number) {
    if (seen === current) return;
    throw new Refusal({
      status: 409,
      title: 'stale',
      detail: 'stale',
      problems: [],
      current_version: current,
    } as unknown as ProblemDocument);
  }

  stored: Stored = {
    writeHead: (head, version) =>
      this.line(() => {
        Service.stale(version, this.version);
        this.head = structuredClone(head);
        return ++this.version;
      }),
    writeDesign: (id, design, version) =>
      this.line(() => {
        const row = this.designs.get(id) ?? { version: 0, design: {} };
        Service.stale(version, row.version);
        this.designs.set(id, { version: row.version + 1, design: structuredClone(design) });
        return row.version + 1;
      }),
    read: () => this.line(() => this.conversion()),
  };
}

/** A window: its draft, what it was told, and a clock that runs only when asked. */
class Window {
  draft: Draft;
  state: SaveState = { kind: 'saved', at: null };
  clashes: string[] = [];
  private due: (() => void) | null = null;
  readonly kept = new Map<string, string>();
  readonly saver: Saver;

  constructor(readonly service: Service) {
    const kept = new KeptEdits(boxOf(this.kept), 'one');
    const later = (_: number, run: () => void) => {
      this.due = run;
      return () => {
        if (this.due === run) this.due = null;
      };
    };
    this.saver = new Saver(
      'c',
      service.conversion(),
      service.stored,
      (change) => (this.state = change(this.state)),
      later,
      kept,
    );
    this.draft = savedOf(service.conversion()).draft;
    this.saver.listen((_, merged, clashes) => {
      this.draft = merged;
      this.clashes.push(...clashes.map((c) => c.path));
    });
    this.left = () => kept.leftOver('c');
  }

  readonly left: () => LeftOver | null;

  edit(change: (draft: Draft) => Draft) {
    this.draft = change(this.draft);
    this.saver.change(this.draft);
  }

  /** Lets the clock run once, and everything that follows from it. */
  async tick() {
    const run = this.due;
    this.due = null;
    run?.();
    for (let i = 0; i < 30; i += 1) await Promise.resolve();
  }

  get waits() {
    return this.due !== null;
  }
}

/** A place in a draft that belongs to one window or to both. */
type Place = 'name' | 'notes' | 'brief.x' | 'donor.y' | 'designs.a.p' | 'designs.b.q' | 'brief.shared';
const own: [Place[], Place[]] = [
  ['name', 'brief.x', 'designs.a.p'],
  ['notes', 'donor.y', 'designs.b.q'],
];

const write = (draft: Draft, place: Place, value: string): Draft => {
  const [top = '', ...rest] = place.split('.');
  const set = (at: unknown, keys: string[]): unknown =>
    keys.length === 0
      ? value
      : { ...(at as object), [keys[0] ?? '']: set((at as Record<string, unknown>)[keys[0] ?? ''], keys.slice(1)) };
  return { ...draft, [top]: set(draft[top as keyof Draft], rest) };
};
const read = (draft: unknown, place: Place) =>
  place.split('.').reduce<unknown>((at, k) => (at as Record<string, unknown> | undefined)?.[k], draft);

const step = fc.oneof(
  fc.record({
    kind: fc.constant('edit' as const),
    who: fc.nat(1),
    place: fc.nat(3),
    value: fc.string({ maxLength: 3 }),
  }),
  fc.record({ kind: fc.constant('tick' as const), who: fc.nat(1) }),
  fc.record({
    kind: fc.constant('fate' as const),
    fate: fc.constantFrom('ok' as const, 'request lost' as const, 'answer lost' as const, 'busy' as const),
  }),
);

test('whatever gets lost, every edit is stored in the end and nothing of the other window is undone', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(step, { maxLength: 40 }), async (steps) => {
      const service = new Service();
      const windows = [new Window(service), new Window(service)] as const;
      const last = new Map<Place, string>();
      const shared: (string | undefined)[] = [undefined, undefined];
      for (const s of steps) {
        if (s.kind === 'fate') service.fate.push(s.fate);
        else if (s.kind === 'tick') await windows[s.who as 0 | 1].tick();
        else {
          const place = own[s.who as 0 | 1][s.place] ?? 'brief.shared';
          if (place === 'brief.shared') shared[s.who] = s.value;
          else last.set(place, s.value);
          windows[s.who as 0 | 1].edit((d) => write(d, place, s.value));
        }
      }
      // The line is sound again: with a few more turns both are at rest.
      service.fate = [];
      for (let i = 0; i < 12; i += 1) for (const w of windows) if (w.waits) await w.tick();
      const stored = service.conversion();
      const rows = { ...stored, designs: Object.fromEntries(stored.designs.map((d) => [d.id, d.design])) };
      for (const [place, value] of last) assert.equal(read(rows, place), value, place);
      const said = shared.filter((v) => v !== undefined);
      if (said.length > 0) assert.ok(said.some((v) => v === read(rows, 'brief.shared')));
      for (const w of windows) {
        assert.deepEqual([w.waits, w.state.kind, w.left()], [false, 'saved', null]);
        assert.deepEqual(
          w.clashes.filter((c) => c !== 'brief.shared'),
          [],
          'only a place both changed may clash',
        );
      }
    }),
    { numRuns: 400, seed: 20261126 },
  );
});

test('both windows show the same once each has heard of the other', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.nat(1), fc.nat(2), fc.string({ maxLength: 3 })), { maxLength: 12 }),
      async (edits) => {
        const service = new Service();
        const windows = [new Window(service), new Window(service)] as const;
        for (const [who, place, value] of edits) {
          const w = windows[who as 0 | 1];
          w.edit((d) => write(d, own[who as 0 | 1][place] ?? 'name', value));
          await w.tick();
          if (w.waits) await w.tick();
        }
        for (const w of windows) await w.saver.sync(() => Promise.resolve());
        const [a, b] = windows;
        assert.ok(same(a.draft, b.draft));
      },
    ),
    { numRuns: 300, seed: 20261126 },
  );
});

test('a refusal is shown, and taking the edit back makes it go away', async () => {
  const service = new Service();
  const w = new Window(service);
  const refuse = { status: 422, title: 'no', detail: 'too heavy', problems: [] } as unknown as ProblemDocument;
  const sound = service.stored.writeHead;
  service.stored.writeHead = () => Promise.reject(new Refusal(refuse));
  w.edit((d) => write(d, 'name', 'x'));
  await w.tick();
  expect(w.state).toEqual({ kind: 'refused', problem: refuse });
  expect(w.left()?.draft.name).toBe('x');
  service.stored.writeHead = sound;
  w.edit((d) => write(d, 'name', 'Van'));
  expect(w.state.kind).toBe('saved');
  expect(w.left()).toBeNull();
});

test('a conversion removed elsewhere is told and nothing is tried again', async () => {
  const service = new Service();
  const w = new Window(service);
  const gone = new Refusal({ status: 404, title: 'gone', detail: 'gone', problems: [] } as unknown as ProblemDocument);
  service.stored.writeHead = () => Promise.reject(gone);
  w.edit((d) => write(d, 'notes', 'late'));
  await w.tick();
  expect(w.state.kind).toBe('gone');
  expect(w.waits).toBe(false);
});

test('while the service is away an edit does not hide that, and a retry begins at once', async () => {
  const service = new Service();
  const w = new Window(service);
  service.fate = ['request lost', 'request lost'];
  w.edit((d) => write(d, 'name', 'one'));
  await w.tick();
  expect(w.state.kind).toBe('offline');
  w.edit((d) => write(d, 'name', 'two'));
  expect(w.state.kind).toBe('offline');
  service.fate = [];
  w.saver.retry();
  await w.tick();
  expect(w.state.kind).toBe('saved');
  expect(service.head.name).toBe('two');
});

test('a browser without room for edits is survived, and saving goes on', async () => {
  const service = new Service();
  const full = () => {
    throw new DOMException('full', 'QuotaExceededError');
  };
  const kept = new KeptEdits({ ...boxOf(new Map()), setItem: full, removeItem: full, getItem: full }, 'one');
  let due: (() => void) | null = null;
  const later = (_: number, run: () => void) => {
    due = run;
    return () => (due = null);
  };
  const saver = new Saver('c', service.conversion(), service.stored, () => undefined, later, kept);
  saver.change({ ...savedOf(service.conversion()).draft, name: 'typed' });
  expect(kept.refused).toBe(true);
  (due as (() => void) | null)?.();
  await expect.poll(() => service.head.name).toBe('typed');
});

test('an edit made just before a page is left is sent, and nothing is written by it later', async () => {
  const service = new Service();
  const w = new Window(service);
  w.edit((d) => ({ ...d, name: 'at the last moment' }));
  w.saver.leave();
  await expect.poll(() => service.head.name).toBe('at the last moment');
  // Where it does not get through it is kept for the next time, and not tried by a page that nobody sees.
  service.fate = ['request lost'];
  w.saver.stay();
  w.edit((d) => ({ ...d, name: 'lost on the way' }));
  w.saver.leave();
  for (let i = 0; i < 5; i += 1) await w.tick();
  expect([service.head.name, w.waits]).toEqual(['at the last moment', false]);
  expect(w.left()?.draft.name).toBe('lost on the way');
});

test('what was being written when a page was left is no news from elsewhere when it comes back', async () => {
  const service = new Service();
  const w = new Window(service);
  const { writeHead } = service.stored;
  // It arrives, and the page is gone before it hears so.
  service.stored.writeHead = async (head, version) => {
    await writeHead(head, version);
    return new Promise<never>(() => undefined);
  };
  w.edit((d) => ({ ...d, name: 'first' }));
  await w.tick();
  w.edit((d) => ({ ...d, name: 'second' }));
  expect(service.head.name).toBe('first');
  const left = w.left();
  if (!left) throw new Error('nothing was kept');
  const stored = savedOf(service.conversion()).draft;
  const back = merge(knownOf(left, stored), left.draft as unknown as Json, stored as unknown as Json);
  expect(back.clashes).toEqual([]);
  expect((back.merged as unknown as Draft).name).toBe('second');
  // What another window made of the same place since is news all the same.
  const theirs = { ...stored, name: 'theirs' };
  const clash = merge(knownOf(left, theirs), left.draft as unknown as Json, theirs as unknown as Json);
  expect(clash.clashes.map((c) => c.path)).toEqual(['name']);
});

test('copying a variant waits for the edit that is being written, and takes it along', async () => {
  const service = new Service();
  const w = new Window(service);
  const order: string[] = [];
  const { writeHead } = service.stored;
  service.stored.writeHead = async (head, version) => {
    order.push('begins');
    const written = await writeHead(head, version);
    order.push('ends');
    return written;
  };
  w.edit((d) => ({ ...d, name: 'first' }));
  const ticked = w.tick();
  w.edit((d) => ({ ...d, name: 'second' }));
  await w.saver.sync(() => {
    order.push(`copied ${service.head.name}`);
    return Promise.resolve();
  });
  await ticked;
  expect(order.filter((o, i) => o === 'begins' && order[i + 1] !== 'ends')).toEqual([]);
  expect(order.at(-1)).toBe('copied second');
  expect(w.clashes).toEqual([]);
});
