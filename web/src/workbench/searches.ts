import hash from '@emotion/hash';
import { EventSourceParserStream } from 'eventsource-parser/stream';
import { useSyncExternalStore } from 'react';
import catalogue from '../units/catalogue.json' with { type: 'json' };
import { api, clientHeader, reach, Refusal, Unreachable, unwrap } from '../api/client';
import type {
  Design,
  Document,
  Match,
  MatchAnswer,
  MatchRequest,
  ProblemDocument,
  Relaxations,
  RelaxProgress,
  SearchProgress,
} from '../api/types';

/** A search as far as it has come. */
export interface SearchState {
  running: boolean;
  /** What was searched for, to tell whether brief, donor or conditions have changed since. */
  asked: string;
  progress: SearchProgress | null;
  /** Share of the combinations that has been decided, at its most: a search that tells designs apart more finely takes some up again. */
  decided: number;
  answer: MatchAnswer | null;
  relaxing: RelaxProgress | null;
  relaxations: Relaxations | null;
  error: Error | null;
  stopped: boolean;
  /** When it was found, where it was found before this page was opened. */
  foundAt: string | null;
}

const idle: SearchState = {
  running: false,
  asked: '',
  progress: null,
  decided: 0,
  answer: null,
  relaxing: null,
  relaxations: null,
  error: null,
  stopped: false,
  foundAt: null,
};

// A search outlives the stage: it goes on while a person looks at the brief, and its answer is there on the way back.
const states = new Map<string, SearchState>();
const stops = new Map<string, AbortController>();
const listeners = new Set<() => void>();

function set(id: string, change: Partial<SearchState>) {
  states.set(id, { ...(states.get(id) ?? idle), ...change });
  for (const tell of listeners) tell();
}

/** The same text for the same content: keys in order, and without what stands for nothing, which the service leaves out. */
function steady(_: string, value: unknown): unknown {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  const says = (v: unknown) => v != null && v !== false && v !== '' && !(Array.isArray(v) && v.length === 0);
  const entries = Object.entries(value).filter(([, v]) => says(v));
  return Object.fromEntries(entries.sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Measures of the body and the wheels, by which only the layout goes. */
const outline = {
  track_front_m: undefined,
  track_rear_m: undefined,
  overhang_front_m: undefined,
  overhang_rear_m: undefined,
  body_width_m: undefined,
  body_height_m: undefined,
  tyre_load_index: undefined,
};

/**
 * Mark of what an answer belongs to: brief, donor, the wiring and loads of the design, and the conditions, but not the parts chosen.
 * Short, so that it can be kept with the answer.
 */
export function askedFor(document: Document, request: MatchRequest): string {
  const { wiring, regeneration, low_voltage, added, front_axle_share, pack } = document.design;
  const box = pack && [pack.box_mass_kg, pack.box_price, pack.window_approach, pack.temperature_c];
  // The conditions are told apart below: those of another school are asked for beside those of the brief.
  const brief = { ...document.brief, search: undefined };
  // Where things sit decides nothing in a search.
  const unplaced = (items: { at?: unknown }[] = []) => items.map((i) => ({ ...i, at: undefined }));
  const donor = { ...document.donor, ...outline, removed: unplaced(document.donor.removed) };
  const asked = JSON.stringify(
    // What is not said of the conditions stands for the usual, whether the service has filled it in yet or not.
    [
      brief,
      donor,
      [wiring, regeneration, low_voltage, unplaced(added), front_axle_share, box],
      { ...catalogue.request, ...request },
    ],
    steady,
  );
  return `${hash(asked)}-${String(asked.length)}`;
}

const keptAs = ['other-pack', 'years-big', 'years-small'] as const;

/** Under which conversion and name the answer of a search is kept: `ID` or `ID/other-pack`. */
function placeOf(at: string) {
  const [conversion = '', rest] = at.split('/');
  return { conversion, name: keptAs.find((name) => name === rest) ?? ('main' as const) };
}

const fetched = new Set<string>();

/** Puts in what was found for a conversion in another tab, on another device or before a reload, where nothing newer is at hand. */
export async function recall(conversion: string): Promise<void> {
  if (fetched.has(conversion)) return;
  fetched.add(conversion);
  try {
    const params = { path: { id: conversion } };
    for (const kept of unwrap(await reach(() => api.GET('/api/v1/conversions/{id}/searches', { params })))) {
      const at = kept.name === 'main' ? conversion : `${conversion}/${kept.name}`;
      const { asked, answer, relaxations = null } = kept;
      if (searchOf(at) === idle) set(at, { asked, answer, relaxations, foundAt: kept.found_at });
    }
  } catch {
    // Asked again when the stage is next opened; a search gives it anew in any case.
    fetched.delete(conversion);
  }
}

export const searchOf = (id: string): SearchState => states.get(id) ?? idle;

export function useSearch(id: string): SearchState {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => searchOf(id),
  );
}

/** The same conditions for one school of packs; of the small one those that stand in them, else the usual ones. */
export function forPack(request: MatchRequest, school: 'big' | 'small'): MatchRequest {
  if (school === 'big') return { ...request, pack: { approach: 'big' } };
  const usual = { approach: 'small', range_share: 0.5, charge_h: 1.5 } as const;
  return { ...request, pack: request.pack?.approach === 'small' ? request.pack : usual };
}

/** The design that a search has picked. */
export async function designOf(document: Document, request: MatchRequest, pick: Match['pick']): Promise<Design> {
  const body = { document, request, picks: [pick] };
  const [design] = unwrap(await reach(() => api.POST('/api/v1/match/designs', { body })));
  if (!design) throw new Error('The service made no design of it.');
  return design;
}

/** Ends a search; what it has found so far stays. */
export function stopSearch(id: string) {
  stops.get(id)?.abort();
  stops.delete(id);
  set(id, { running: false, stopped: true, relaxing: null });
}

async function refusal(response: Response): Promise<Error> {
  const problem = (await response.json().catch(() => null)) as ProblemDocument | null;
  return problem && typeof problem.detail === 'string' && response.status < 502
    ? new Refusal(problem)
    : new Unreachable(`The service answered with status ${String(response.status)}.`);
}

/** Runs a search and keeps its state up to date until it ends or is stopped. */
export async function startSearch(id: string, document: Document, request: MatchRequest): Promise<void> {
  stops.get(id)?.abort();
  const stop = new AbortController();
  stops.set(id, stop);
  const asked = askedFor(document, request);
  set(id, { ...idle, running: true, asked });
  try {
    const response = await fetch('/api/v1/match', {
      method: 'POST',
      headers: { ...clientHeader, 'content-type': 'application/json', accept: 'text/event-stream' },
      body: JSON.stringify({ document, request, keep: { ...placeOf(id), asked } }),
      signal: stop.signal,
    });
    if (!response.ok || !response.body) throw await refusal(response);
    const events = response.body
      .pipeThrough(new TextDecoderStream() as unknown as ReadableWritablePair<string, Uint8Array<ArrayBuffer>>)
      .pipeThrough(new EventSourceParserStream())
      .getReader();
    for (;;) {
      const { value, done } = await events.read();
      if (done || stop.signal.aborted) break;
      const data: unknown = JSON.parse(value.data);
      if (value.event === 'progress') {
        const progress = data as SearchProgress;
        const share = progress.total > 0 ? 1 - progress.left / progress.total : 0;
        set(id, { progress, decided: Math.max(share, searchOf(id).decided) });
      } else if (value.event === 'answer') set(id, { answer: data as MatchAnswer });
      else if (value.event === 'relaxing') set(id, { relaxing: data as RelaxProgress });
      else if (value.event === 'relaxations') set(id, { relaxations: data as Relaxations });
      else if (value.event === 'problem') throw new Refusal(data as ProblemDocument);
    }
    if (stops.get(id) === stop) set(id, { running: false, relaxing: null });
  } catch (error) {
    if (stop.signal.aborted) return;
    const seen = error instanceof TypeError ? new Unreachable('The service does not answer.') : error;
    set(id, { running: false, relaxing: null, error: seen instanceof Error ? seen : new Error('refused') });
  }
}
