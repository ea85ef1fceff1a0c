import type { Draft } from './draft';
import { type Later, later } from './later';
import { confirmed, type Json } from './merge';

/** Edits that were not stored when a page was left, with what they were based on. */
export interface LeftOver {
  draft: Draft;
  base: Draft;
  /** What was being written when the page was left: it may have been stored, and then it is no news from elsewhere. */
  sent?: Draft[];
}

/** What a page that was left knew of the conversion as it is stored now: what it was based on, and what of its own has arrived since. */
export const knownOf = (left: LeftOver, stored: Draft): Json =>
  (left.sent ?? []).reduce<Json>(
    (known, sent) => confirmed(known, sent as unknown as Json, stored as unknown as Json),
    left.base as unknown as Json,
  );

type Box = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

/** By then what an edit changed has been painted. */
const PAINTED_MS = 100;

const PREFIX = 'joulethesis.draft.';
const TAB = 'joulethesis.tab';

/**
 * Edits kept in the browser until they are stored, each tab's apart from the others'. A browser that keeps nothing, or has no room, is
 * survived: then edits last as long as the page.
 */
export class KeptEdits {
  /** Whether the last edits could not be kept. */
  refused = false;
  private waiting: (() => void) | null = null;
  private takeBack = () => {};

  constructor(
    private readonly box: Box,
    private readonly tab: string,
    private readonly later: Later = (_, run) => {
      run();
      return () => undefined;
    },
  ) {}

  private keyOf(id: string, tab = this.tab): string {
    return `${PREFIX}${id}.${tab}`;
  }

  /** As `keep`, once what the edit changed has been painted: writing a long draft down takes milliseconds. */
  keepSoon(...what: Parameters<KeptEdits['keep']>): void {
    const first = this.waiting === null;
    this.waiting = () => {
      this.keep(...what);
    };
    if (first)
      this.takeBack = this.later(PAINTED_MS, () => {
        this.keepNow();
      });
  }

  /** Keeps at once what waits to be kept. */
  keepNow(): void {
    this.waiting?.();
  }

  private rest(): void {
    this.takeBack();
    this.waiting = null;
  }

  keep(id: string, draft: Draft, base: Draft, sent: Draft[] = []): void {
    this.rest();
    try {
      this.box.setItem(this.keyOf(id), JSON.stringify(sent.length === 0 ? { draft, base } : { draft, base, sent }));
      this.refused = false;
    } catch {
      this.refused = true;
    }
  }

  forget(id: string): void {
    this.rest();
    try {
      this.box.removeItem(this.keyOf(id));
      this.refused = false;
    } catch {
      // Nothing was kept, then.
    }
  }

  /** What this tab left unsaved of a conversion. */
  leftOver(id: string): LeftOver | null {
    try {
      const text = this.box.getItem(this.keyOf(id));
      return text === null ? null : (JSON.parse(text) as LeftOver);
    } catch {
      return null;
    }
  }

  /** Takes over what closed tabs left, as far as this one has nothing of its own of the same conversion. */
  adopt(isOpen: (tab: string) => boolean): void {
    try {
      const keys = Array.from({ length: this.box.length }, (_, i) => this.box.key(i) ?? '');
      for (const key of keys.filter((k) => k.startsWith(PREFIX)).sort()) {
        const [id = '', tab = ''] = key.slice(PREFIX.length).split('.');
        if (tab === this.tab || isOpen(tab) || this.box.getItem(this.keyOf(id)) !== null) continue;
        const text = this.box.getItem(key);
        if (text !== null) this.box.setItem(this.keyOf(id), text);
        this.box.removeItem(key);
      }
    } catch {
      // What cannot be read cannot be taken over.
    }
  }
}

/** A box that holds nothing, for browsers that refuse even to be asked. */
const none: Box = {
  getItem: () => null,
  setItem: () => undefined,
  removeItem: () => undefined,
  key: () => null,
  length: 0,
};

function storage(which: 'localStorage' | 'sessionStorage'): Box {
  try {
    return window[which];
  } catch {
    return none;
  }
}

let ofThisTab: KeptEdits | null = null;

/** The edits of this tab. */
export function keptEdits(): KeptEdits {
  ofThisTab ??= new KeptEdits(storage('localStorage'), 'tab', later);
  return ofThisTab;
}

/**
 * Gives this tab a name of its own and takes over what closed tabs left; to be waited for before anything is shown. A tab holds a lock of
 * its name as long as it is open: a tab that was duplicated finds the name taken and takes another.
 */
export async function openTab(
  locks: LockManager | undefined = navigator.locks as LockManager | undefined,
): Promise<void> {
  const session = storage('sessionStorage');
  const hold = (name: string) =>
    new Promise<boolean>((resolve) => {
      if (!locks) {
        resolve(true);
        return;
      }
      locks
        .request(`${TAB}.${name}`, { ifAvailable: true }, (lock) => {
          resolve(lock !== null);
          // Held until the tab is closed.
          return lock === null ? undefined : new Promise<never>(() => undefined);
        })
        .catch(() => {
          // A browser that refuses locks is as good as one without them.
          resolve(true);
        });
    });
  let name = session.getItem(TAB) ?? crypto.randomUUID();
  if (!(await hold(name))) {
    // The page that is being loaded anew may still be letting go.
    await new Promise((resolve) => setTimeout(resolve, 300));
    if (!(await hold(name))) {
      name = crypto.randomUUID();
      await hold(name);
    }
  }
  try {
    session.setItem(TAB, name);
  } catch {
    // A reload is then another tab, which takes over what this one left.
  }
  ofThisTab = new KeptEdits(storage('localStorage'), name, later);
  // Without locks nobody knows which tabs are open, and an open tab's edits are its own.
  if (!locks) return;
  const held = new Set((await locks.query()).held?.map((l) => l.name) ?? []);
  ofThisTab.adopt((tab) => held.has(`${TAB}.${tab}`));
}
