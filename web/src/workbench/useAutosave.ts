import { useCallback, useEffect, useRef, useState } from 'react';
import { api, reach, Refusal, unwrap, Unreachable } from '../api/client';
import type { Conversion, ProblemDocument } from '../api/types';
import { type Draft, type Saved, savedOf, variantsOf } from './draft';
import { type Clash, type Json, merge, same } from './merge';

export type SaveState =
  | { kind: 'saved'; at: Date | null }
  | { kind: 'waiting' }
  | { kind: 'saving' }
  | { kind: 'offline'; message: string }
  | { kind: 'refused'; problem: ProblemDocument }
  | { kind: 'gone' };

const QUIET_MS = 350;
const LONGEST_RETRY_MS = 8000;

const keyOf = (id: string) => `joulethesis.draft.${id}`;

/** Edits that were not saved when the page was last left, if they still differ from what is stored. */
export function leftOver(id: string): { draft: Draft; base: Draft } | null {
  try {
    const text = localStorage.getItem(keyOf(id));
    return text === null ? null : (JSON.parse(text) as { draft: Draft; base: Draft });
  } catch {
    return null;
  }
}

export interface Autosave {
  state: SaveState;
  retry: () => void;
  sync: (action: () => Promise<unknown>) => Promise<void>;
}

interface Options {
  id: string;
  draft: Draft;
  initial: Conversion;
  /** Another window changed something: `theirs` was merged into the draft. */
  /** `news` tells whether anything came from elsewhere; an edit of one's own that was stored after all brings none. */
  onMerged: (merged: Draft, clashes: Clash[], conversion: Conversion, news: boolean) => void;
}

/**
 * Saves the draft as it changes: what differs from the stored rows is written with the version it was based on. A stale
 * write is answered by reading the newer rows and merging; nothing is overwritten unseen. While the service is away the
 * edits wait here, also over a reload.
 */
export function useAutosave({ id, draft, initial, onMerged }: Options): Autosave {
  const [state, setState] = useState<SaveState>({ kind: 'saved', at: null });
  const saved = useRef<Saved>(savedOf(initial));
  const latest = useRef(draft);
  const busy = useRef(false);
  const attempt = useRef(0);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const merged = useRef(onMerged);
  useEffect(() => {
    latest.current = draft;
    merged.current = onMerged;
  });

  const runRef = useRef<() => Promise<void>>(() => Promise.resolve());

  const writeOnce = useCallback(async (): Promise<void> => {
    const now = latest.current;
    const base = saved.current;
    const { designs, ...head } = now;
    const { designs: baseDesigns, ...baseHead } = base.draft;
    if (!same(head, baseHead)) {
      const answer = await reach(() =>
        api.PUT('/api/v1/conversions/{id}', { params: { path: { id } }, body: { ...head, version: base.version } }),
      );
      const { version } = unwrap(answer);
      saved.current = { ...saved.current, version, draft: { ...saved.current.draft, ...head } };
    }
    for (const [designId, design] of Object.entries(designs)) {
      const version = saved.current.versions[designId];
      if (version === undefined || same(design, baseDesigns[designId])) continue;
      const answer = await reach(() =>
        api.PUT('/api/v1/designs/{id}', { params: { path: { id: designId } }, body: { version, design } }),
      );
      const written = unwrap(answer);
      saved.current = {
        ...saved.current,
        versions: { ...saved.current.versions, [designId]: written.version },
        draft: { ...saved.current.draft, designs: { ...saved.current.draft.designs, [designId]: design } },
      };
    }
  }, [id]);

  const takeTheirs = useCallback(async () => {
    const answer = await reach(() => api.GET('/api/v1/conversions/{id}', { params: { path: { id } } }));
    const conversion = unwrap(answer);
    const theirs = savedOf(conversion);
    const result = merge(
      saved.current.draft as unknown as Json,
      latest.current as unknown as Json,
      theirs.draft as unknown as Json,
    );
    const draft = result.merged as unknown as Draft;
    // Variants removed elsewhere are gone; those added elsewhere come in.
    draft.designs = Object.fromEntries(
      variantsOf(conversion).map((v) => [v.id, draft.designs[v.id] ?? theirs.draft.designs[v.id] ?? {}]),
    );
    const news = !same(draft, latest.current);
    saved.current = theirs;
    latest.current = draft;
    merged.current(draft, result.clashes, conversion, news);
  }, [id]);

  const run = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    const again = (ms: number) => {
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void runRef.current(), ms);
    };
    try {
      setState({ kind: 'saving' });
      await writeOnce();
      attempt.current = 0;
      if (same(latest.current, saved.current.draft)) {
        localStorage.removeItem(keyOf(id));
        setState({ kind: 'saved', at: new Date() });
      } else {
        again(QUIET_MS);
      }
    } catch (error) {
      if (error instanceof Refusal && error.problem.status === 409 && error.problem.current_version != null) {
        try {
          await takeTheirs();
          again(0);
        } catch {
          again(1000);
        }
      } else if (error instanceof Refusal && error.problem.status === 404) {
        setState({ kind: 'gone' });
      } else if (error instanceof Refusal) {
        setState({ kind: 'refused', problem: error.problem });
      } else {
        attempt.current += 1;
        const message = error instanceof Unreachable ? error.message : 'The service does not answer.';
        setState({ kind: 'offline', message });
        again(Math.min(LONGEST_RETRY_MS, 500 * 2 ** attempt.current));
      }
    } finally {
      busy.current = false;
    }
  }, [id, takeTheirs, writeOnce]);
  useEffect(() => {
    runRef.current = run;
  }, [run]);

  useEffect(() => {
    if (same(draft, saved.current.draft)) {
      localStorage.removeItem(keyOf(id));
      clearTimeout(timer.current);
      // An edit that was taken back leaves nothing to store, whatever had become of it.
      setState((s) => (s.kind === 'refused' || s.kind === 'waiting' ? { kind: 'saved', at: new Date() } : s));
      return;
    }
    localStorage.setItem(keyOf(id), JSON.stringify({ draft, base: saved.current.draft }));
    // While a retry waits, the page already says so; an edit must not hide it.
    setState((s) => (s.kind === 'offline' ? s : { kind: 'waiting' }));
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void runRef.current(), QUIET_MS);
  }, [draft, id]);

  useEffect(() => () => clearTimeout(timer.current), []);

  const retry = useCallback(() => {
    attempt.current = 0;
    void runRef.current();
  }, []);

  /** Saves what is pending, does something to the stored conversion, and takes over the result. */
  const sync = useCallback(
    async (action: () => Promise<unknown>) => {
      clearTimeout(timer.current);
      await writeOnce();
      await action();
      await takeTheirs();
    },
    [takeTheirs, writeOnce],
  );
  return { state, retry, sync };
}
