// The interface's saving without a browser: what is typed is never lost, whatever happens meanwhile.
import { expect, test } from '@playwright/test';
import { Refusal, Unreachable } from '../../web/src/api/client';
import type { Conversion, ProblemDocument } from '../../web/src/api/types';
import { type Draft, savedOf } from '../../web/src/workbench/draft';
import { KeptEdits } from '../../web/src/workbench/kept';
import { Saver, type SaveState, type Stored } from '../../web/src/workbench/saver';
import { boxOf } from '../box';

const refused = (status: number, more: Partial<ProblemDocument> = {}) =>
  new Refusal({
    type: 'about:blank',
    title: 't',
    status,
    detail: 'd',
    problems: [],
    ...more,
  } as ProblemDocument);

const keptIn = (kept: Map<string, string>) => new KeptEdits(boxOf(kept), 'one');

/** A conversion with one design, as the service would hold it, that any number of windows write to. */
class Rows {
  conversion = {
    id: 'c',
    version: 1,
    name: 'Wren',
    notes: '',
    units: 'metric',
    brief: { driver_kg: 75 },
    donor: { curb_mass_kg: 300 },
    designs: [{ id: 'a', label: 'A', version: 1, design: { motor_count: 1 } }],
  } as unknown as Conversion;
  /** What becomes of the next requests, one each; then all is well. */
  fate: ('lost before' | 'lost after' | 'refused' | 'gone')[] = [];

  private async asked<T>(work: () => T): Promise<T> {
    await Promise.resolve();
    const fate = this.fate.shift();
    if (fate === 'lost before') throw new Unreachable('The service does not answer.');
    if (fate === 'refused') throw refused(422);
    if (fate === 'gone') throw refused(404);
    const result = work();
    if (fate === 'lost after') throw new Unreachable('The answer was lost.');
    return result;
  }

  stored: Stored = {
    writeHead: (head, version) =>
      this.asked(() => {
        if (version !== this.conversion.version) throw refused(409, { current_version: this.conversion.version });
        this.conversion = {
          ...this.conversion,
          ...structuredClone(head),
          version: version + 1,
        };
        return version + 1;
      }),
    writeDesign: (id, design, version) =>
      this.asked(() => {
        const row = this.conversion.designs.find((d) => d.id === id);
        if (!row) throw refused(404);
        if (version !== row.version) throw refused(409, { current_version: row.version });
        const written = {
          ...row,
          design: structuredClone(design),
          version: version + 1,
        };
        this.conversion = {
          ...this.conversion,
          designs: this.conversion.designs.map((d) => (d.id === id ? written : d)),
        };
        return version + 1;
      }),
    read: () => this.asked(() => structuredClone(this.conversion)),
  };
}

/** A window on it: a clock that moves only when it is told to, and a storage that outlives it. */
class Window {
  draft: Draft;
  state: SaveState = { kind: 'saved', at: null };
  clashes = 0;
  private waiting: (() => void)[] = [];
  private readonly saver: Saver;

  constructor(
    rows: Rows,
    readonly kept = new Map<string, string>(),
  ) {
    this.draft = savedOf(structuredClone(rows.conversion)).draft;
    this.saver = new Saver(
      'c',
      structuredClone(rows.conversion),
      rows.stored,
      (change) => {
        this.state = change(this.state);
      },
      (_, run) => {
        this.waiting.push(run);
        return () => (this.waiting = this.waiting.filter((w) => w !== run));
      },
      keptIn(kept),
    );
    this.saver.listen((_, merged, clashes) => {
      this.draft = merged;
      this.clashes += clashes.length;
      this.saver.change(merged);
    });
  }

  type(change: Partial<Draft>) {
    this.draft = { ...this.draft, ...change };
    this.saver.change(this.draft);
  }

  /** Lets all that waits happen, and what follows from it, so many times at most. */
  async pass(most = 30) {
    for (let i = 0; i < most && this.waiting.length > 0; i++) {
      const now = this.waiting;
      this.waiting = [];
      now.forEach((run) => {
        run();
      });
      for (let j = 0; j < 20; j++) await Promise.resolve();
    }
  }
}

test('an edit is saved once, and one taken back leaves nothing', async () => {
  const rows = new Rows();
  const w = new Window(rows);
  w.type({ name: 'Wren 2' });
  expect(w.state.kind).toBe('waiting');
  expect(keptIn(w.kept).leftOver('c')?.draft.name).toBe('Wren 2');
  await w.pass();
  expect([w.state.kind, rows.conversion.name, rows.conversion.version]).toEqual(['saved', 'Wren 2', 2]);
  expect(w.kept.size).toBe(0);
  w.type({ name: 'x' });
  w.type({ name: 'Wren 2' });
  await w.pass();
  expect([w.state.kind, rows.conversion.version]).toEqual(['saved', 2]);
});

test('an edit whose answer was lost and that is taken back is taken back where it is stored', async () => {
  const rows = new Rows();
  const w = new Window(rows);
  rows.fate = ['lost after'];
  w.type({ name: 'Wren 2' });
  await w.pass(1);
  expect([w.state.kind, rows.conversion.name]).toEqual(['offline', 'Wren 2']);
  w.type({ name: 'Wren' });
  await w.pass();
  expect([w.state.kind, rows.conversion.name, w.clashes, w.kept.size]).toEqual(['saved', 'Wren', 0, 0]);
});

test('a refusal keeps the edit and says so; a lost service is asked again; a removed conversion is told', async () => {
  const rows = new Rows();
  const w = new Window(rows);
  rows.fate = ['refused'];
  w.type({ notes: 'half' });
  await w.pass();
  expect([w.state.kind, w.draft.notes, w.kept.size]).toEqual(['refused', 'half', 1]);
  rows.fate = ['lost before', 'lost before'];
  w.type({ notes: 'whole' });
  await w.pass(1);
  expect(w.state.kind).toBe('offline');
  // An edit meanwhile does not hide it.
  w.type({ notes: 'whole, and more' });
  expect(w.state.kind).toBe('offline');
  await w.pass();
  expect([w.state.kind, rows.conversion.notes]).toEqual(['saved', 'whole, and more']);
  rows.fate = ['gone'];
  w.type({ notes: 'to nobody' });
  await w.pass();
  expect([w.state.kind, w.kept.size]).toEqual(['gone', 1]);
});

test('two windows at random: every place is what somebody typed last there, and clashes are told', async () => {
  // A small generator with a fixed seed, so that a failure repeats.
  let seed = 20_261_126;
  const random = (below: number) => {
    seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0;
    return Math.floor((seed / 2 ** 32) * below);
  };
  const fates = ['lost before', 'lost after'] as const;
  for (let round = 0; round < 200; round++) {
    const rows = new Rows();
    const [left, right] = [new Window(rows), new Window(rows)];
    // Places of their own, so that nothing may be lost; the name is everybody's.
    const typed = { notes: '', driver: 75, mass: 300, motors: 1 };
    for (let step = 0; step < 12; step++) {
      const n = round * 100 + step;
      switch (random(6)) {
        case 0:
          left.type({ notes: (typed.notes = `note ${String(n)}`) });
          break;
        case 1:
          left.type({
            brief: { ...left.draft.brief, driver_kg: (typed.driver = n) },
          });
          break;
        case 2:
          right.type({
            donor: { ...right.draft.donor, curb_mass_kg: (typed.mass = n) },
          });
          break;
        case 3:
          right.type({
            designs: {
              a: { ...right.draft.designs.a, motor_count: (typed.motors = n) },
            },
          });
          break;
        case 4:
          rows.fate.push(fates[random(2)] ?? 'lost before');
          break;
        default:
          await (random(2) === 0 ? left : right).pass(1 + random(3));
      }
    }
    rows.fate = [];
    for (let i = 0; i < 4; i++) {
      await left.pass();
      await right.pass();
    }
    const c = rows.conversion;
    expect(
      [c.notes, c.brief.driver_kg, c.donor.curb_mass_kg, c.designs[0]?.design.motor_count],
      `round ${String(round)}`,
    ).toEqual(Object.values(typed));
    expect([left.state.kind, right.state.kind, left.clashes + right.clashes]).toEqual(['saved', 'saved', 0]);
    expect([left.kept.size, right.kept.size]).toEqual([0, 0]);
  }
  const rows = new Rows();
  const [left, right] = [new Window(rows), new Window(rows)];
  left.type({ name: 'left' });
  right.type({ name: 'right' });
  await left.pass();
  await right.pass();
  expect(right.clashes).toBe(1);
});
