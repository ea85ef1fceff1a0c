import { EventSourceParserStream } from 'eventsource-parser/stream';
import { useSyncExternalStore } from 'react';
import { clientHeader, Refusal, Unreachable } from '../api/client';
import type {
  Document,
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
  answer: MatchAnswer | null;
  relaxing: RelaxProgress | null;
  relaxations: Relaxations | null;
  error: Error | null;
  stopped: boolean;
}

const idle: SearchState = {
  running: false,
  asked: '',
  progress: null,
  answer: null,
  relaxing: null,
  relaxations: null,
  error: null,
  stopped: false,
};

// A search outlives the stage: it goes on while a person looks at the brief, and its answer is there on the way back.
const states = new Map<string, SearchState>();
const stops = new Map<string, AbortController>();
const listeners = new Set<() => void>();

function set(id: string, change: Partial<SearchState>) {
  states.set(id, { ...(states.get(id) ?? idle), ...change });
  for (const tell of listeners) tell();
}

/** What an answer belongs to: brief, donor, the wiring and loads of the design, and the conditions, but not the parts chosen. */
export function askedFor(document: Document, request: MatchRequest): string {
  const { wiring, regeneration, low_voltage, added, front_axle_share, pack } = document.design;
  const box = pack && [pack.box_mass_kg, pack.box_price, pack.window_approach, pack.temperature_c];
  return JSON.stringify([
    document.brief,
    document.donor,
    [wiring, regeneration, low_voltage, added, front_axle_share, box],
    request,
  ]);
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
  set(id, { ...idle, running: true, asked: askedFor(document, request) });
  try {
    const response = await fetch('/api/v1/match', {
      method: 'POST',
      headers: { ...clientHeader, 'content-type': 'application/json', accept: 'text/event-stream' },
      body: JSON.stringify({ document, request }),
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
      if (value.event === 'progress') set(id, { progress: data as SearchProgress });
      else if (value.event === 'answer') set(id, { answer: data as MatchAnswer });
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
