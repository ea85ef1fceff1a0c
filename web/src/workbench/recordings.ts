import type { Document, Trip } from '../api/types';

/** Readings from which on a trace is worth a name; shorter ones are sent along. */
const worthwhile = 200;

type Path = Trip['path'];
type Recorded = Extract<Path, { trace: unknown }>;

/** Stores a recording with the service and tells the name it has there. */
export type Keep = (path: Recorded) => Promise<string>;

/**
 * Recorded drives travel to the service once: from then on documents that are computed with name them by the hash of their content. A
 * recording whose name is not known yet travels whole, and one the service has forgotten does so again.
 */
export class Recordings {
  private readonly names = new WeakMap<Path, string>();
  private readonly asked = new WeakSet<Path>();

  constructor(
    private readonly keep: Keep,
    /** Called when a name has become known, or is no longer. */
    private readonly told: () => void,
  ) {}

  /** Asks for the names of long recordings that have none yet. Where that fails they go on travelling whole. */
  learn(document: Document) {
    for (const { path } of document.brief.trips ?? []) {
      if (!isLong(path) || this.asked.has(path)) continue;
      this.asked.add(path);
      this.keep(path).then(
        (name) => {
          this.names.set(path, name);
          this.told();
        },
        () => undefined,
      );
    }
  }

  /** The document with names in place of the recordings that have one. */
  lean(document: Document): Document {
    const trips = document.brief.trips;
    if (!trips?.some((t) => this.names.has(t.path))) return document;
    const named = trips.map((t) => {
      const name = this.names.get(t.path);
      return name === undefined ? t : { ...t, path: { recorded: name } as unknown as Path };
    });
    return { ...document, brief: { ...document.brief, trips: named } };
  }

  /** The service has forgotten them: they travel whole until it has told their names again. */
  forget(document: Document) {
    for (const { path } of document.brief.trips ?? []) {
      this.names.delete(path);
      this.asked.delete(path);
    }
    this.told();
  }
}

const isLong = (path: Path): path is Recorded => 'trace' in path && path.trace.length >= worthwhile;

/** Whether a refusal is about a recording that the service has forgotten. */
export const isForgotten = (problems: { path: string }[]) =>
  problems.length > 0 && problems.every((p) => p.path.endsWith('.path.recorded'));
