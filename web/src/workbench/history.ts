import type { Draft } from './draft';

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

/** Rewrites every step, for changes that come from outside and are not the person's to undo. */
export function rebase(h: History, change: (d: Draft) => Draft): History {
  return { past: h.past.map(change), present: change(h.present), future: h.future.map(change), last: null };
}
