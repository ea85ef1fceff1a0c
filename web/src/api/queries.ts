import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { api, reach, unwrap } from './client';
import type { Design, Document, Donor, MatchRequest, PartKind, Pick, Question, Shortlist, Slot } from './types';

const neverStale = Number.POSITIVE_INFINITY;

const texts = new WeakMap<object, string>();

/** A document as text, by which answers about it are kept; written once however many ask. */
function textOf(document: object): string {
  const text = texts.get(document) ?? JSON.stringify(document);
  texts.set(document, text);
  return text;
}

/** Answers that every edit asks for anew. Their keys, long texts, are not written out a second time to tell them apart. */
const everyEdit = {
  staleTime: neverStale,
  queryKeyHashFn: (key: readonly unknown[]) => key.join('\n'),
};

/** Answers that a view asks for: pure functions of what they are asked with; the one before stands until the next is there. */
const whileLooking = { staleTime: neverStale, gcTime: 10_000, placeholderData: keepPreviousData };

/** Parts of an answer that are as they were before keep their identity through an edit, so that what shows them is not drawn anew. */
const shared = <T>(answer: T): T => answer;

/** The estimate is a pure function of the document, so its text is its key and it never grows stale. */
export const estimateQuery = (document: Document) =>
  queryOptions({
    queryKey: ['estimate', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/estimate', { body: document, signal }))),
    ...everyEdit,
    gcTime: 60_000,
    placeholderData: keepPreviousData,
    select: shared,
  });

/** What the Chain stage draws; the estimate goes without, since no other stage needs it. */
export const curvesQuery = (document: Document) =>
  queryOptions({
    queryKey: ['curves', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/curves', { body: document, signal }))),
    ...everyEdit,
    gcTime: 10_000,
    placeholderData: keepPreviousData,
    select: shared,
  });

/** What parts of a kind would do, all of them or those named. */
export const alternativesQuery = (document: Document, part: PartKind, names?: string[]) =>
  queryOptions({
    queryKey: ['alternatives', part, textOf(document), names?.join('\n') ?? ''],
    queryFn: ({ signal }) =>
      reach(async () =>
        unwrap(
          await api.POST('/api/v1/alternatives', { body: { document, part, ...(names ? { names } : {}) }, signal }),
        ),
      ),
    ...whileLooking,
  });

/** Queries that take both cores; one is given up as soon as what it was asked for has changed. */
export const dear = { bands: 'bands', fixes: 'fixes' };

/** The cheapest single change for every goal that a design misses; asked for once the edits have come to rest. */
export const fixesQuery = (document: Document) =>
  queryOptions({
    queryKey: [dear.fixes, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/match/fixes', { body: document, signal }))),
    ...everyEdit,
    gcTime: 60_000,
    retry: false,
  });

/** Bands of every headline figure; asked for once the central figures are there. */
export const bandsQuery = (document: Document) =>
  queryOptions({
    queryKey: [dear.bands, textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/bands', { body: document, signal }))),
    ...everyEdit,
    gcTime: 60_000,
    placeholderData: keepPreviousData,
    select: shared,
  });

export const tornadoQuery = (document: Document, figure: string) =>
  queryOptions({
    queryKey: ['tornado', figure, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/tornado', { body: { document, figure }, signal }))),
    ...whileLooking,
  });

export const reasonQuery = (document: Document, figure: string) =>
  queryOptions({
    queryKey: ['reason', figure, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/explanation', { body: { document, figure }, signal }))),
    ...whileLooking,
  });

export const tripStudyQuery = (document: Document, trip: string) =>
  queryOptions({
    queryKey: ['trip-study', trip, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/trip-study', { body: { document, trip }, signal }))),
    ...whileLooking,
  });

/** Every measured drive of a trip, held against what is predicted for it. */
export const drivesQuery = (document: Document, trip: string) =>
  queryOptions({
    queryKey: ['drives', trip, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/drives', { body: { document, trip }, signal }))),
    ...whileLooking,
  });

/** Charging at each socket between two states of charge. */
export const socketsQuery = (document: Document, from_soc: number | null, to_soc: number | null) =>
  queryOptions({
    queryKey: ['sockets', from_soc, to_soc, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/sockets', { body: { document, from_soc, to_soc }, signal }))),
    ...whileLooking,
  });

/** The usual week hour by hour, and what would make it hold. */
export const weekQuery = (document: Document) =>
  queryOptions({
    queryKey: ['week', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/week', { body: document, signal }))),
    ...whileLooking,
  });

/** How sure the usual week is. */
export const weekOddsQuery = (document: Document) =>
  queryOptions({
    queryKey: ['week odds', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/week/odds', { body: document, signal }))),
    ...whileLooking,
  });

/** Everything between pack, motor, charger and the 12 V side, sized. */
export const electricsQuery = (document: Document) =>
  queryOptions({
    queryKey: ['electrics', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/electrics', { body: document, signal }))),
    select: shared,
    ...everyEdit,
    gcTime: 10_000,
    placeholderData: keepPreviousData,
  });

/** Where every mass sits, and what axles and wheels carry. */
export const layoutQuery = (document: Document) =>
  queryOptions({
    queryKey: ['layout', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/layout', { body: document, signal }))),
    ...whileLooking,
  });

/** The donor in hand and the candidates as the brief sees them, ranked. */
export const candidatesQuery = (document: Document, shortlist: Shortlist, chains: Record<string, Design>) =>
  queryOptions({
    queryKey: ['candidates', JSON.stringify([document, shortlist, chains])],
    queryFn: ({ signal }) =>
      reach(async () =>
        unwrap(await api.POST('/api/v1/candidates', { body: { document, shortlist, chains }, signal })),
      ),
    ...whileLooking,
  });

/** A chain for a donor, whatever is chosen for the one in hand; asked anew where brief or donor change. */
export const chainForQuery = (document: Document, donor: Donor) => {
  const { brief } = document;
  return queryOptions({
    queryKey: ['chain-for', JSON.stringify([brief, donor])],
    queryFn: ({ signal }) =>
      reach(async () =>
        unwrap(await api.POST('/api/v1/match/proposal', { body: { document: { ...document, donor } }, signal })),
      ),
    staleTime: neverStale,
    gcTime: 600_000,
  });
};

/** Chain, shaft and coupler at the greatest torque, and the bolts of every mount. */
export const mechanicsQuery = (document: Document) =>
  queryOptions({
    queryKey: ['mechanics', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/mechanics', { body: document, signal }))),
    ...whileLooking,
  });

/** The layout as files for the workshop. */
export const layoutFilesQuery = (document: Document) =>
  queryOptions({
    queryKey: ['layout-files', textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/layout/files', { body: document, signal }))),
    staleTime: neverStale,
    gcTime: 10_000,
  });

/** Messages of the donor's network that fall silent with the engine's unit. */
export const silentQuery = (document: Document) =>
  queryOptions({
    queryKey: ['silent', JSON.stringify(document.donor.evidence?.network)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/network/silent', { body: document, signal }))),
    ...whileLooking,
  });

/** What the timed passes tell, beside those of the conversion. */
export const passesQuery = (document: Document) =>
  queryOptions({
    queryKey: ['passes', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/passes', { body: document, signal }))),
    ...whileLooking,
  });

/** What of the library's modules fits into a bay of the donor. */
export const bayQuery = (document: Document, bay: number) =>
  queryOptions({
    queryKey: ['bay', bay, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/layout/bay', { body: { document, bay }, signal }))),
    ...whileLooking,
  });

/** Ways to spread the pack over the bays, or what one split does. */
export const splitsQuery = (document: Document, modules: number[] | null, others: string[] = []) =>
  queryOptions({
    queryKey: ['splits', modules, others, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () =>
        unwrap(await api.POST('/api/v1/layout/splits', { body: { document, modules, others }, signal })),
      ),
    ...whileLooking,
  });

/** What each record of the library would do in a place of the circuits. */
export const placeChoicesQuery = (document: Document, slot: Slot) =>
  queryOptions({
    queryKey: ['place-choices', slot, textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/electrics/choices', { body: { document, slot }, signal }))),
    ...whileLooking,
  });

/** Smaller and bigger packs and other designs over the years. */
export const yearsQuery = (document: Document, others: { name: string; design: Design }[]) =>
  queryOptions({
    queryKey: ['years', JSON.stringify([document, others])],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/years', { body: { document, others }, signal }))),
    ...whileLooking,
  });

export const choicesQuery = (document: Document) =>
  queryOptions({
    queryKey: ['choices', textOf(document)],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/choices', { body: document, signal }))),
    ...everyEdit,
    gcTime: 10_000,
    placeholderData: keepPreviousData,
    select: shared,
  });

/** What the brief demands of the donor before any part is chosen, and the ways it can be geared. */
export const needsQuery = (document: Document) =>
  queryOptions({
    queryKey: ['needs', textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/match/needs', { body: document, signal }))),
    ...whileLooking,
  });

export const whyNotQuery = (
  document: Document,
  request: MatchRequest,
  question: Question,
  beside: Pick | null,
  against: Pick[],
) =>
  queryOptions({
    queryKey: ['why-not', JSON.stringify([document, request, question, beside, against])],
    queryFn: ({ signal }) =>
      reach(async () =>
        unwrap(
          await api.POST('/api/v1/match/why-not', { body: { document, request, question, beside, against }, signal }),
        ),
      ),
    staleTime: neverStale,
    gcTime: 10_000,
  });

/** Parts of the design whose record in the library has changed since. */
export const newerQuery = (document: Document) =>
  queryOptions({
    queryKey: ['newer', textOf(document)],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.POST('/api/v1/library/newer', { body: document, signal }))),
    gcTime: 10_000,
    placeholderData: keepPreviousData,
  });

/** What to take out of the donor, and its ledger. */
export const teardownQuery = (document: Document) =>
  queryOptions({
    queryKey: ['teardown', JSON.stringify([document.donor])],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/teardown', { body: document, signal }))),
    ...whileLooking,
  });

/** What the donor's weighing tells. */
export const weighingQuery = (document: Document) =>
  queryOptions({
    queryKey: ['weighing', JSON.stringify([document.donor])],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/weighing', { body: document, signal }))),
    ...whileLooking,
  });

export const roadLoadQuery = (document: Document) =>
  queryOptions({
    queryKey: ['road-load', JSON.stringify([document.donor, document.brief])],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.POST('/api/v1/road-load', { body: document, signal }))),
    ...whileLooking,
  });
