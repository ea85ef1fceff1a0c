import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import type { Design, Document } from '../../api/types';
import { askedFor, designOf, forPack, recall, startSearch, stopSearch, useSearch } from '../../workbench/searches';

const names = { big: 'Best big pack found', small: 'Best small pack found' };
const schools = ['big', 'small'] as const;

/** The search of one school for the years, and the design of its best. */
function useSchool(id: string, document: Document, school: 'big' | 'small') {
  const at = `${id}/years-${school}`;
  const request = forPack(document.brief.search ?? {}, school);
  const search = useSearch(at);
  const best = search.answer?.designs[0];
  const design = useQuery({
    // What was searched for and found; an edit since then is told as such and fetches nothing.
    queryKey: ['school', at, search.asked, best?.pick],
    queryFn: () => (best ? designOf(document, request, best.pick) : null),
    enabled: best !== undefined,
    staleTime: Infinity,
  });
  return {
    at,
    request,
    search,
    found: best ? (design.data ?? null) : null,
    error: search.error ?? design.error,
    stale: search.asked !== '' && search.asked !== askedFor(document, request),
  };
}

/** The best design of each school from a search of the library, one school after the other. */
export function useSchools(id: string, document: Document) {
  const of = { big: useSchool(id, document, 'big'), small: useSchool(id, document, 'small') };
  useEffect(() => void recall(id), [id]);
  const going = useRef(false);
  const running = schools.find((school) => of[school].search.running);
  return {
    running,
    progress: running ? of[running].search.progress : null,
    error: of.big.error ?? of.small.error,
    /** Schools of which nothing in the library meets the brief. */
    without: schools.filter((school) => of[school].search.answer?.designs.length === 0),
    /** Whether a search was stopped before it had seen everything. */
    partial: schools.some((school) => of[school].search.stopped || of[school].search.answer?.complete === false),
    /** Whether the brief has changed since. */
    stale: schools.some((school) => of[school].stale),
    designs: schools.flatMap((school): { name: string; design: Design }[] => {
      const { found } = of[school];
      return found ? [{ name: names[school], design: found }] : [];
    }),
    start: async () => {
      going.current = true;
      for (const school of schools) {
        if (going.current) await startSearch(of[school].at, document, of[school].request);
      }
      going.current = false;
    },
    stop: () => {
      going.current = false;
      for (const school of schools) if (of[school].search.running) stopSearch(of[school].at);
    },
  };
}
