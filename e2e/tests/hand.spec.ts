// Plain functions of the interface: keys, recordings, texts of files, filters. No browser is needed.
import assert from 'node:assert/strict';
import { expect, test } from '@playwright/test';
import type { Document, Part } from '../../web/src/api/types';
import { textOf } from '../../web/src/fields/text';
import { kindsAmong, passes } from '../../web/src/parts/filters';
import { meaning } from '../../web/src/shell/shortcuts';
import { isForgotten, Recordings } from '../../web/src/workbench/recordings';

test('undo within a text stays there, single keys count once and can be switched off', () => {
  const press = {
    key: 'z',
    command: true,
    alt: false,
    shift: false,
    repeat: false,
    typing: false,
    typed: false,
    dialog: false,
    singles: true,
  };
  expect(meaning(press)).toBe('undo');
  expect(meaning({ ...press, shift: true })).toBe('redo');
  // In a field where nothing has been typed since it got the focus, the edit before is meant.
  expect(meaning({ ...press, typing: true })).toBe('undo');
  expect(meaning({ ...press, typing: true, typed: true })).toBe('none');
  expect(meaning({ ...press, dialog: true })).toBe('none');
  const copy = { ...press, key: 'c', command: false };
  expect(meaning(copy)).toBe('single');
  for (const held of ['repeat', 'typing', 'dialog', 'alt', 'command'] as const)
    expect(meaning({ ...copy, [held]: true }), held).toBe('none');
  expect(meaning({ ...copy, singles: false })).toBe('none');
  expect(meaning({ ...press, singles: false })).toBe('undo');
});

test('a recording travels once, by its name from then on, and whole again once it was forgotten', async () => {
  const trace = Array.from({ length: 900 }, (_, s) => ({ time_s: s, speed_kmh: 30, grade_percent: 0 }));
  const short = [{ distance_km: 1, speed_kmh: 30 }];
  const document = {
    brief: {
      trips: [
        { id: 'a', name: 'A', path: { trace } },
        { id: 'b', name: 'B', path: { segments: short } },
      ],
    },
  } as unknown as Document;
  let sent = 0;
  let told = 0;
  const recordings = new Recordings(
    () => {
      sent += 1;
      return sent === 2 ? Promise.reject(new Error('away')) : Promise.resolve(`name ${String(sent)}`);
    },
    () => {
      told += 1;
    },
  );
  const path = (d: Document, i: number) => d.brief.trips?.[i]?.path as unknown;
  assert.equal(recordings.lean(document), document, 'no name is known yet');
  recordings.learn(document);
  recordings.learn(document);
  await Promise.resolve();
  expect([sent, told]).toEqual([1, 1]);
  // Another edit leaves the path the very same object.
  const edited = { ...document, name: 'x', brief: { ...document.brief, driver_kg: 70 } };
  recordings.learn(edited);
  expect(sent).toBe(1);
  expect(path(recordings.lean(edited), 0)).toEqual({ recorded: 'name 1' });
  expect(path(recordings.lean(edited), 1)).toEqual({ segments: short });
  expect(path(edited, 0)).toEqual({ trace });
  expect(isForgotten([{ path: 'brief.trips[0].path.recorded' }])).toBe(true);
  expect(isForgotten([{ path: 'brief.trips[0].path.recorded' }, { path: 'donor.curb_mass_kg' }])).toBe(false);
  expect(isForgotten([])).toBe(false);
  recordings.forget(edited);
  assert.equal(recordings.lean(edited), edited);
  // Where keeping it fails it goes on travelling whole.
  recordings.learn(edited);
  await new Promise((r) => setTimeout(r, 1));
  assert.equal(recordings.lean(edited), edited);
  expect(sent).toBe(2);
});

test('a file is read as it was written: UTF-8, UTF-16, Latin-1', () => {
  const bytes = (...all: number[]) => new Uint8Array(all).buffer;
  // RFC 3629, and the ISO 8859-1 place of u with diaeresis.
  expect(textOf(bytes(0x4d, 0xc3, 0xbc))).toBe('Mü');
  expect(textOf(bytes(0x4d, 0xfc, 0x6c, 0x6c))).toBe('Müll');
  expect(textOf(bytes(0xff, 0xfe, 0x4d, 0x00, 0xfc, 0x00))).toBe('Mü');
  expect(textOf(bytes(0xfe, 0xff, 0x00, 0x4d, 0x00, 0xfc))).toBe('Mü');
  expect(textOf(bytes())).toBe('');
});

test('a picker narrows by kind, voltage and price, and what nobody stated is never passed as within', () => {
  const motor = { part: 'motor', kind: 'induction', name: 'M', max_voltage_v: 120, price: 900 } as unknown as Part;
  const controller = {
    part: 'controller',
    motor_kinds: ['induction', 'series_dc'],
    min_voltage_v: 48,
    max_voltage_v: 96,
    price: 0,
  } as unknown as Part;
  const ask = { words: '', kind: '' };
  expect(passes(motor, { ...ask, words: 'm  induct' }, 'M induction')).toBe(true);
  expect(passes(motor, { ...ask, words: 'm hub' }, 'M induction')).toBe(false);
  expect([110, 130].map((volts) => passes(motor, { ...ask, volts }, ''))).toEqual([true, false]);
  expect([40, 48, 96, 97].map((volts) => passes(controller, { ...ask, volts }, ''))).toEqual([
    false,
    true,
    true,
    false,
  ]);
  expect([899, 900].map((price) => passes(motor, { ...ask, price }, ''))).toEqual([false, true]);
  // A part without a price is unknown, never free.
  expect(passes(controller, { ...ask, price: 5000 }, '')).toBe(false);
  expect(passes(controller, { ...ask, kind: 'series_dc' }, '')).toBe(true);
  expect(kindsAmong([motor, controller])).toEqual([
    ['induction', 'induction'],
    ['series_dc', 'series DC'],
  ]);
});
