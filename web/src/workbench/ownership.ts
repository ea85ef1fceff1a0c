import type { Source } from '../api/types';
import type { Draft } from './draft';
import { get, put } from './merge';

/** Places of a design whose change makes a proposal the person's own choice. */
const chosen = new Set([
  'motor',
  'motor_count',
  'motor_place',
  'controller',
  'controller_count',
  'driveline',
  'pack',
  'charger',
]);

/** Records that keep the marks of their values, from the outermost in; an index or id stands between dots. */
const marked = [
  /^donor$/,
  /^shortlist\.candidates\.[^.]+\.donor$/,
  /^brief$/,
  /^designs\.[^.]+$/,
  /^designs\.[^.]+\.(motor|controller|charger)$/,
  /^designs\.[^.]+\.pack\.module$/,
];

/** Marks that speak of a value that is no longer there once another is typed over it. */
const ofAnother = new Set<Source['from']>(['handbook', 'datasheet', 'seller']);

/** The draft after an edit of one place, with what the edit makes the person's own no longer marked as anybody else's. */
export function own(draft: Draft, path: string): Draft {
  const keys = path.split('.');
  let next = draft;
  if (keys[0] === 'designs' && chosen.has(keys[2] ?? '') && get(next, `designs.${keys[1] ?? ''}.proposed`) === true)
    next = put(next, `designs.${keys[1] ?? ''}.proposed`, undefined);
  if (keys[0] === 'brief' && keys[1] === 'goals' && (keys[3] === 'measure' || keys[3] === 'level')) {
    const at = `brief.goals.${keys[2] ?? ''}`;
    if (get(next, `${at}.assumed`) === true) next = put(next, `${at}.assumed`, undefined);
  }
  for (let depth = 1; depth < keys.length; depth += 1) {
    const record = keys.slice(0, depth).join('.');
    if (!marked.some((m) => m.test(record)) || keys[depth] === 'sources') continue;
    const sources = get(next, `${record}.sources`) as Record<string, Source> | undefined;
    if (!sources) continue;
    // The mark of the value itself, or of the whole that it is part of.
    for (let end = keys.length; end > depth; end -= 1) {
      const key = keys.slice(depth, end).join('.');
      const mark = sources[key];
      if (!mark || !ofAnother.has(mark.from)) continue;
      // Keys may hold dots, so the record is written whole.
      next = put(next, `${record}.sources`, { ...sources, [key]: { from: 'guess' } });
      break;
    }
  }
  return next;
}
