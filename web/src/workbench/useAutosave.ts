import { useEffect, useState } from 'react';
import { api, reach, unwrap } from '../api/client';
import type { Conversion } from '../api/types';
import type { Draft } from './draft';
import type { Clash } from './merge';
import { keptEdits } from './kept';
import { later } from './later';
import { Saver, type SaveState, type Stored } from './saver';
import { Watched } from './watched';

/** Windows of one browser tell each other what they have stored. */
const windows = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('joulethesis-stored');

/** The conversion as the service holds it. */
const storedAt = (id: string): Stored => ({
  writeHead: async (head, version) => {
    const stored = unwrap(
      await reach(() => api.PUT('/api/v1/conversions/{id}', { params: { path: { id } }, body: { ...head, version } })),
    );
    windows?.postMessage(id);
    return stored.version;
  },
  writeDesign: async (designId, design, version) => {
    const stored = unwrap(
      await reach(() =>
        api.PUT('/api/v1/designs/{id}', { params: { path: { id: designId } }, body: { version, design } }),
      ),
    );
    windows?.postMessage(id);
    return stored.version;
  },
  read: async () => unwrap(await reach(() => api.GET('/api/v1/conversions/{id}', { params: { path: { id } } }))),
});

interface Options {
  id: string;
  draft: Draft;
  initial: Conversion;
  onMerged: (mine: Draft, merged: Draft, clashes: Clash[], conversion: Conversion, news: boolean) => void;
}

/** A `Saver` for as long as the page shows the conversion. */
export function useAutosave({ id, draft, initial, onMerged }: Options) {
  const [state] = useState(() => new Watched<SaveState>({ kind: 'saved', at: null }));
  const [saver] = useState(() => new Saver(id, initial, storedAt(id), state.change, later, keptEdits()));
  useEffect(() => {
    saver.listen(onMerged);
  }, [onMerged, saver]);
  useEffect(() => {
    saver.change(draft);
  }, [draft, saver]);
  useEffect(() => {
    saver.stay();
    const leave = () => {
      saver.leave();
    };
    // A page that comes back out of the browser's memory goes on where it was.
    const stay = (e: PageTransitionEvent) => {
      if (!e.persisted) return;
      saver.stay();
      saver.retry();
    };
    window.addEventListener('pagehide', leave);
    window.addEventListener('pageshow', stay);
    const look = () => {
      if (document.visibilityState === 'visible') void saver.look();
      else saver.hide();
    };
    const hear = (e: MessageEvent) => {
      if (e.data === id) void saver.look();
    };
    // Another window of this browser says so; what another machine stored is seen on the way back to the page.
    windows?.addEventListener('message', hear);
    document.addEventListener('visibilitychange', look);
    window.addEventListener('focus', look);
    return () => {
      windows?.removeEventListener('message', hear);
      document.removeEventListener('visibilitychange', look);
      window.removeEventListener('focus', look);
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('pageshow', stay);
      saver.leave();
    };
  }, [id, saver]);
  return { state, saver };
}
