import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { api, reach, Refusal, Unreachable, unwrap } from '../api/client';
import { bandsQuery, dear, estimateQuery } from '../api/queries';
import type { Claim, Trip } from '../api/types';
import type { Ask } from './ahead';
import { type Draft, documentOf, type Variant } from './draft';
import { judge } from './judge';
import { isForgotten, Recordings } from './recordings';
import { useSettled } from './useSettled';
import { useShared } from './useShared';

/** Pause after the last edit before 256 samples are asked for; both cores then work for a moment. */
const bandsAfterMs = 200;

/** A service that is away is asked again until it is back. */
const untilBack = {
  retry: (_: number, error: Error) => error instanceof Unreachable,
  retryDelay: (count: number) => Math.min(8000, 500 * 2 ** count),
};

const keepRecording = async (path: Extract<Trip['path'], { trace: unknown }>) =>
  unwrap(await reach(() => api.POST('/api/v1/recordings', { body: path }))).recorded;

const nothing: Claim[] = [];

/**
 * What is computed of a variant: its estimate at once, its bands when that is there and the edits have come to rest. `ahead` asks for the
 * figures of a draft before it is drawn.
 */
export function useComputed(draft: Draft, active: Variant) {
  // Recordings travel once; `named` counts the names that have become known.
  const [named, setNamed] = useState(0);
  const [recordings] = useState(
    () =>
      new Recordings(keepRecording, () => {
        setNamed((n) => n + 1);
      }),
  );
  const whole = useMemo(() => documentOf(draft, active), [draft, active]);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- a name that has become known changes what is sent
  const document = useMemo(() => recordings.lean(whole), [recordings, whole, named]);
  useEffect(() => {
    recordings.learn(whole);
  }, [named, recordings, whole]);
  const query = useQuery({
    ...estimateQuery(document),
    // However long the service is away, figures come back by themselves.
    ...untilBack,
  });
  const refused = query.error instanceof Refusal ? query.error.problem : null;
  const forgotten = refused !== null && isForgotten(refused.problems);
  useEffect(() => {
    if (forgotten) recordings.forget(whole);
  }, [forgotten, recordings, whole]);
  const problem = forgotten ? null : refused;
  const away = query.failureReason instanceof Unreachable;
  // The central figures come first; the bands, dearer, follow when those are there.
  const settled = useSettled(document, bandsAfterMs);
  const current = settled === document && !query.isPlaceholderData;
  const client = useQueryClient();
  // What takes both cores for the design before an edit is given up with it, so that the edit's own figures need not wait.
  const giveUp = useCallback(() => {
    for (const key of Object.values(dear)) void client.cancelQueries({ queryKey: [key] });
  }, [client]);
  useEffect(() => {
    if (settled !== document) giveUp();
  }, [document, giveUp, settled]);
  const [asked] = useState(() => new Set<Ask>());
  const ahead = useCallback(
    (next: Draft) => {
      const document = recordings.lean(documentOf(next, active));
      const query = estimateQuery(document);
      // A service that is away is asked again only for what is still wanted by then.
      const wanted = () => (client.getQueryCache().find(query)?.getObserversCount() ?? 0) > 0;
      // An edit of what is not computed with asks for nothing, and what is under way goes on.
      if (wanted()) return;
      giveUp();
      void client.prefetchQuery({ ...query, ...untilBack, retry: (n, e) => untilBack.retry(n, e) && wanted() });
      for (const ask of asked) ask(document);
    },
    [active, asked, client, giveUp, recordings],
  );
  const bandsQueried = useQuery({ ...bandsQuery(settled), ...untilBack, enabled: query.isSuccess && current });
  const bands = problem ? undefined : bandsQueried.data;
  const fresh = current && !bandsQueried.isPlaceholderData;
  // What was last computed of each variant stays in view, dimmed, while a field of it is refused.
  const [good, setGood] = useState<Record<string, Claim[]>>({});
  const now = problem || query.isPlaceholderData ? undefined : query.data?.claims;
  if (now !== undefined && good[active.id] !== now) setGood({ ...good, [active.id]: now });
  const known = (problem ? good[active.id] : query.data?.claims) ?? nothing;
  // Until the figures of an edit are there, those before it stand as they were judged.
  const claims = useShared(
    useMemo(() => judge(known, bands, fresh), [bands, fresh, known]),
    query.isPlaceholderData && problem === null,
  );

  const estimate = problem ? undefined : query.data;
  const stale = query.isPlaceholderData || away || problem !== null;
  const computed = useMemo(() => ({ estimate, problem, away }), [away, estimate, problem]);
  // Until the figures of an edit are there, the bands beside those before it are theirs.
  const bandsFresh = useShared(fresh, query.isPlaceholderData && problem === null);
  const freshness = useMemo(() => ({ stale, bandsFresh }), [bandsFresh, stale]);
  return { document, settled, computed, claims, bands, freshness, ahead, asked };
}
