import type { Draft } from './draft';
import { type Clash, type Json, merge, put } from './merge';

/** Undo and redo of a draft. */
export interface History {
  past: Draft[];
  present: Draft;
  future: Draft[];
  /** Place of the last edit, and when: edits of one place within a moment are one step. */
  last: { path: string; at: number } | null;
}

const MOST_STEPS = 200;
const ONE_EDIT_MS = 900;

export const start = (present: Draft): History => ({ past: [], present, future: [], last: null });

export function edit(h: History, present: Draft, path: string, now: number): History {
  if (present === h.present) return h;
  const joins = h.last !== null && h.last.path === path && now - h.last.at < ONE_EDIT_MS;
  const past = joins ? h.past : [...h.past, h.present].slice(-MOST_STEPS);
  return { past, present, future: [], last: { path, at: now } };
}

export function undo(h: History): History {
  const previous = h.past.at(-1);
  if (!previous) return h;
  return { past: h.past.slice(0, -1), present: previous, future: [h.present, ...h.future], last: null };
}

export function redo(h: History): History {
  const [next, ...future] = h.future;
  if (!next) return h;
  return { past: [...h.past, h.present], present: next, future, last: null };
}

/**
 * Takes in what came from elsewhere, as it was merged with the draft `mine`: every step keeps what the person did here, and has the rest as
 * it is now, so that neither undo nor redo takes back what another window saved. So does the present: an edit made while the rows were
 * read is not in `mine`, and stays.
 */
export function rebase(h: History, mine: Draft, merged: Draft): History {
  const base = mine as unknown as Json;
  const onto = (step: Draft) => {
    const draft = merge(base, step as unknown as Json, merged as unknown as Json).merged as unknown as Draft;
    // Variants are added and removed, not edited: each step has those that there are.
    const designs = Object.keys(merged.designs).map(
      (id) => [id, draft.designs[id] ?? merged.designs[id] ?? {}] as const,
    );
    return { ...draft, designs: Object.fromEntries(designs) };
  };
  const present = h.present === mine ? merged : onto(h.present);
  return { past: h.past.map(onto), present, future: h.future.map(onto), last: null };
}

/** Settles clashes: what was chosen stands, and undo brings the other value of each. */
export function settle(h: History, clashes: Clash[], chosen: ReadonlySet<string>): History {
  const with_ = (theirs: (c: Clash) => boolean) =>
    clashes.reduce((d, c) => put(d, c.place, theirs(c) ? c.theirs : c.mine), h.present);
  const other = with_((c) => !chosen.has(c.path));
  return {
    past: [...h.past, other].slice(-MOST_STEPS),
    present: with_((c) => chosen.has(c.path)),
    future: [],
    last: null,
  };
}
