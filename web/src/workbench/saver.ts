import { Refusal, Unreachable } from '../api/client';
import type { Conversion, Design, ProblemDocument } from '../api/types';
import { type Draft, type Saved, savedOf, variantsOf } from './draft';
import type { KeptEdits } from './kept';
import type { Later } from './later';
import { type Clash, confirmed, type Json, merge, same } from './merge';

export type SaveState =
  | { kind: 'saved'; at: Date | null }
  | { kind: 'waiting' }
  | { kind: 'saving' }
  | { kind: 'offline'; message: string }
  | { kind: 'refused'; problem: ProblemDocument }
  | { kind: 'gone' };

/** All of a draft but its designs, which are rows of their own. */
export type Head = Omit<Draft, 'designs'>;

/** The stored conversion: writes answer with the new version, or throw a `Refusal` or `Unreachable`. */
export interface Stored {
  writeHead: (head: Head, version: number) => Promise<number>;
  writeDesign: (id: string, design: Design, version: number) => Promise<number>;
  read: () => Promise<Conversion>;
}

type Tell = (change: (before: SaveState) => SaveState) => void;

/**
 * The stored rows were read and merged into `mine`, the draft as the saver last heard of it: a newer edit may be on its way and has to be
 * kept. `news` tells whether anything came from elsewhere; an edit of one's own that was stored after all brings none.
 */
type Merged = (mine: Draft, merged: Draft, clashes: Clash[], conversion: Conversion, news: boolean) => void;

export const QUIET_MS = 350;
const LONGEST_RETRY_MS = 8000;
/** Lost answers that are remembered until the rows are read again. */
const MOST_UNANSWERED = 50;

/** Windows that may be quicker, one after the other, before an action is given up. */
const MOST_TRIES = 5;

const isStale = (error: unknown) =>
  error instanceof Refusal && error.problem.status === 409 && error.problem.current_version != null;

/**
 * Saves a draft as it changes: what differs from the stored rows is written with the version it was based on. A stale write is answered by
 * reading the newer rows and merging; nothing is overwritten unseen. While the service is away the edits wait, also over a reload.
 */
export class Saver {
  private saved: Saved;
  private latest: Draft;
  private busy = false;
  private attempt = 0;
  private left = false;
  /** One writer at a time: each waits for the one before. */
  private turn: Promise<unknown> = Promise.resolve();
  private onMerged: Merged = () => {};
  private takeBack = () => {};
  /** Rows sent whose answers were lost: they may be stored, and then they are no news from elsewhere. */
  private unanswered: Draft[] = [];
  private sending: Draft | null = null;

  constructor(
    private readonly id: string,
    initial: Conversion,
    private readonly stored: Stored,
    private readonly tell: Tell,
    private readonly later: Later,
    private readonly kept: Pick<KeptEdits, 'keep' | 'keepSoon' | 'keepNow' | 'forget'>,
  ) {
    this.saved = savedOf(initial);
    this.latest = this.saved.draft;
  }

  /** Whom to tell when another window's changes came in. */
  listen(onMerged: Merged): void {
    this.onMerged = onMerged;
  }

  /** A newer state of the draft. */
  change(draft: Draft): void {
    this.latest = draft;
    if (same(draft, this.saved.draft) && this.unanswered.length === 0) {
      this.kept.forget(this.id);
      this.takeBack();
      // An edit that was taken back leaves nothing to store, whatever had become of it.
      this.tell((s) => (s.kind === 'refused' || s.kind === 'waiting' ? { kind: 'saved', at: new Date() } : s));
      return;
    }
    this.kept.keepSoon(this.id, draft, this.saved.draft, this.sent);
    // While a retry waits, the page already says so; an edit must not hide it.
    this.tell((s) => (s.kind === 'offline' ? s : { kind: 'waiting' }));
    this.again(QUIET_MS);
  }

  /** Tries at once. */
  retry(): void {
    this.attempt = 0;
    void this.run();
  }

  /** Saves what is pending, does something to the stored conversion, and takes over the result; after whatever is being written. */
  async sync(action: () => Promise<unknown>): Promise<void> {
    this.takeBack();
    const mine = this.turn.then(async () => {
      await this.writeOver();
      await action();
      await this.takeTheirs();
    });
    this.turn = mine.catch(() => undefined);
    await mine;
  }

  /** Takes in what another window has stored, where nothing of one's own waits; otherwise the next save does. */
  async look(): Promise<void> {
    if (this.left || !same(this.latest, this.saved.draft)) return;
    try {
      await this.sync(() => Promise.resolve());
    } catch {
      // Seen with the next save.
    }
  }

  /** Writes what is pending; where another window was quicker its changes are taken in first. */
  private async writeOver(): Promise<void> {
    for (let tries = 1; ; tries += 1) {
      try {
        await this.write();
        return;
      } catch (error) {
        if (!isStale(error) || tries === MOST_TRIES) throw error;
        await this.takeTheirs();
      }
    }
  }

  /** The page is left: what is pending is sent at once, and nothing is tried again by itself; it is kept until it is known to be stored. */
  leave(): void {
    this.takeBack();
    this.kept.keepNow();
    if (!same(this.latest, this.saved.draft)) void this.run();
    this.left = true;
  }

  /** The page is out of sight, and may never come back. */
  hide(): void {
    this.kept.keepNow();
  }

  /** The page is there again after all. */
  stay(): void {
    this.left = false;
  }

  private again(ms: number): void {
    this.takeBack();
    if (this.left) return;
    this.takeBack = this.later(ms, () => void this.run());
  }

  private async run(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    const mine = this.turn.then(() => this.attemptOnce());
    this.turn = mine;
    await mine;
  }

  private async attemptOnce(): Promise<void> {
    try {
      this.tell(() => ({ kind: 'saving' }));
      // What became of a write whose answer was lost is found out first: an edit taken back since may be stored.
      if (this.unanswered.length > 0) await this.takeTheirs();
      await this.write();
      this.attempt = 0;
      if (same(this.latest, this.saved.draft)) {
        this.kept.forget(this.id);
        this.tell(() => ({ kind: 'saved', at: new Date() }));
      } else {
        this.again(QUIET_MS);
      }
    } catch (error) {
      await this.failed(error);
    } finally {
      this.busy = false;
    }
  }

  private async failed(error: unknown): Promise<void> {
    if (!(error instanceof Refusal)) {
      if (this.sending) this.unanswered = [...this.unanswered, this.sending].slice(-MOST_UNANSWERED);
      this.sending = null;
      this.attempt += 1;
      const message = error instanceof Unreachable ? error.message : 'The service does not answer.';
      this.tell(() => ({ kind: 'offline', message }));
      this.again(Math.min(LONGEST_RETRY_MS, 500 * 2 ** this.attempt));
    } else if (isStale(error)) {
      await this.takeTheirs().then(
        () => {
          this.again(0);
        },
        () => {
          this.again(1000);
        },
      );
    } else if (error.problem.status === 404) {
      this.tell(() => ({ kind: 'gone' }));
    } else {
      this.tell(() => ({ kind: 'refused', problem: error.problem }));
    }
  }

  /** What may be stored though nobody has said so yet. */
  private get sent(): Draft[] {
    return this.sending ? [...this.unanswered, this.sending] : this.unanswered;
  }

  private async write(): Promise<void> {
    this.sending = this.latest;
    if (!same(this.latest, this.saved.draft)) this.kept.keep(this.id, this.latest, this.saved.draft, this.sent);
    const { designs, ...head } = this.latest;
    const { designs: baseDesigns, ...baseHead } = this.saved.draft;
    if (!same(head, baseHead)) {
      const version = await this.stored.writeHead(head, this.saved.version);
      this.saved = { ...this.saved, version, draft: { ...this.saved.draft, ...head } };
    }
    for (const [id, design] of Object.entries(designs)) {
      const version = this.saved.versions[id];
      if (version === undefined || same(design, baseDesigns[id])) continue;
      const written = await this.stored.writeDesign(id, design, version);
      const { draft, versions } = this.saved;
      this.saved = {
        ...this.saved,
        versions: { ...versions, [id]: written },
        draft: { ...draft, designs: { ...draft.designs, [id]: design } },
      };
    }
    this.sending = null;
  }

  private async takeTheirs(): Promise<void> {
    const conversion = await this.stored.read();
    const theirs = savedOf(conversion);
    const base = this.unanswered.reduce<Json>(
      (known, sent) => confirmed(known, sent as unknown as Json, theirs.draft as unknown as Json),
      this.saved.draft as unknown as Json,
    );
    const mine = this.latest;
    this.unanswered = [];
    const result = merge(base, mine as unknown as Json, theirs.draft as unknown as Json);
    const draft = result.merged as unknown as Draft;
    // Variants removed elsewhere are gone; those added elsewhere come in.
    draft.designs = Object.fromEntries(
      variantsOf(conversion).map((v) => [v.id, draft.designs[v.id] ?? theirs.draft.designs[v.id] ?? {}]),
    );
    const news = !same(draft, mine);
    this.saved = theirs;
    this.latest = draft;
    this.onMerged(mine, draft, result.clashes, conversion, news);
  }
}
