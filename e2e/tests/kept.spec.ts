// What the browser keeps of edits that are not stored yet: by tab, and never written over. No browser is needed.
import { expect, test } from '@playwright/test';
import { type Draft } from '../../web/src/workbench/draft';
import { KeptEdits } from '../../web/src/workbench/kept';
import { boxOf } from '../box';

const draftOf = (name: string) => ({ name, designs: {} }) as unknown as Draft;

test('what the browser kept in broken form is no draft', () => {
  const left = (text: string | null) =>
    new KeptEdits(boxOf(new Map(text === null ? [] : [['joulethesis.draft.c.one', text]])), 'one').leftOver('c');
  expect(left(null)).toBeNull();
  expect(left('{"draft": ')).toBeNull();
  expect(left('{"draft": {"name": "x"}, "base": {}}')?.draft.name).toBe('x');
});

test('two tabs neither share nor clear each other’s edits; what a closed tab left is taken over once', () => {
  const box = boxOf(new Map<string, string>());
  const [one, two, three] = ['one', 'two', 'three'].map((tab) => new KeptEdits(box, tab)) as [
    KeptEdits,
    KeptEdits,
    KeptEdits,
  ];
  one.keep('c', draftOf('of one'), draftOf('base'));
  two.keep('c', draftOf('of two'), draftOf('base'));
  two.forget('c');
  expect(one.leftOver('c')?.draft.name).toBe('of one');
  three.adopt((tab) => tab === 'one');
  expect(three.leftOver('c'), 'an open tab keeps its own').toBeNull();
  three.adopt(() => false);
  expect(three.leftOver('c')?.draft.name).toBe('of one');
  expect(one.leftOver('c'), 'taken over, not copied').toBeNull();
  two.keep('c', draftOf('of two'), draftOf('base'));
  three.adopt(() => false);
  expect(three.leftOver('c')?.draft.name, 'its own edits are not written over').toBe('of one');
  expect(two.leftOver('c')?.draft.name).toBe('of two');
});

test('edits are kept when they have been painted, the last of several; at once where the page may go or is being stored', () => {
  const box = new Map<string, string>();
  const due: (() => void)[] = [];
  const kept = new KeptEdits(boxOf(box), 'one', (_, run) => {
    due.push(run);
    return () => void due.splice(due.indexOf(run), 1);
  });
  const name = () => kept.leftOver('c')?.draft.name;
  for (const typed of ['o', 'on', 'one']) kept.keepSoon('c', draftOf(typed), draftOf(''));
  // However long somebody types without a pause, it is kept as often as the clock says.
  expect([name(), due.length]).toEqual([undefined, 1]);
  due[0]?.();
  expect([name(), due.length]).toEqual(['one', 0]);
  kept.keepSoon('c', draftOf('two'), draftOf(''));
  kept.keepNow();
  expect([name(), due.length], 'the page is out of sight').toEqual(['two', 0]);
  kept.keepSoon('c', draftOf('older'), draftOf(''));
  kept.keep('c', draftOf('being stored'), draftOf(''));
  expect([name(), due.length], 'nothing older comes after it').toEqual(['being stored', 0]);
  kept.keepSoon('c', draftOf('stored'), draftOf(''));
  kept.forget('c');
  expect([name(), due.length], 'what is stored does not come back').toEqual([undefined, 0]);
});
