import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useCallback, useMemo, useRef, useState } from 'react';
import { useLocation, useParams } from 'wouter';
import { api, reach, unwrap } from '../api/client';
import type { Conversion, Design, UnitSystem } from '../api/types';
import { CurrencyContext, UnitsContext } from '../units/UnitsContext';
import { AheadContext } from './ahead';
import { ClashDialog } from './ClashDialog';
import { type Draft, savedOf, type Variant, variantsOf } from './draft';
import {
  edit as editHistory,
  type History,
  rebase,
  redo as redoHistory,
  settle,
  start,
  undo as undoHistory,
} from './history';
import { keptEdits, knownOf } from './kept';
import { type Clash, type Json, merge, put, same } from './merge';
import { type Message, MessageBar } from './MessageBar';
import { own } from './ownership';
import { useAutosave } from './useAutosave';
import { useComputed } from './useComputed';
import {
  BandsContext,
  FreshnessContext,
  type Results,
  ResultsContext,
  type Saving,
  SavingContext,
  type Workbench,
  WorkbenchContext,
} from './WorkbenchContext';

/** The stored draft, with edits that were left unsaved here put back on top. */
function firstDraft(conversion: Conversion): { history: History; clashes: Clash[]; restored: boolean } {
  const stored = savedOf(conversion).draft;
  const left = keptEdits().leftOver(conversion.id);
  if (!left) return { history: start(stored), clashes: [], restored: false };
  const result = merge(knownOf(left, stored), left.draft as unknown as Json, stored as unknown as Json);
  const draft = result.merged as unknown as Draft;
  const known = Object.entries(draft.designs).filter(([id]) => id in stored.designs);
  const restored = { ...draft, designs: { ...stored.designs, ...Object.fromEntries(known) } };
  return {
    history: same(restored, stored) ? start(stored) : { ...start(restored), past: [stored] },
    clashes: result.clashes,
    restored: !same(restored, stored),
  };
}

export function WorkbenchProvider({ conversion, children }: { conversion: Conversion; children: ReactNode }) {
  const { stage = 'brief', label } = useParams();
  const [, navigate] = useLocation();
  const client = useQueryClient();
  const [first] = useState(() => firstDraft(conversion));
  const [history, setHistory] = useState(first.history);
  const [variants, setVariants] = useState<Variant[]>(() => variantsOf(conversion));
  const [clashes, setClashes] = useState<Clash[]>(first.clashes);
  const [message, setMessage] = useState<Message>({
    text: first.restored ? 'Edits that had not been saved were put back.' : '',
  });
  const say = useCallback((text: string) => {
    setMessage({ text });
  }, []);
  const draft = history.present;
  const active = useMemo(
    () => variants.find((v) => v.label === label) ?? variants[0] ?? { id: '', label: 'A' },
    [label, variants],
  );

  const { document, settled, computed, claims, bands, freshness, ahead, asked } = useComputed(draft, active);

  // The history as the last edit left it, drawn or not: an edit's figures are asked for at once, not when the page has been drawn.
  const latest = useRef(first.history);
  const change = useCallback(
    (next: (h: History) => History) => {
      const before = latest.current;
      latest.current = next(before);
      setHistory(latest.current);
      if (latest.current.present !== before.present) ahead(latest.current.present);
    },
    [ahead],
  );
  const edit = useCallback(
    (path: string, value: unknown) => {
      change((h) => editHistory(h, own(put(h.present, path, value), path), path, Date.now()));
    },
    [change],
  );
  const editAll = useCallback(
    (places: [string, unknown][]) => {
      change((h) =>
        editHistory(
          h,
          places.reduce((d, [path, value]) => put(d, path, value), h.present),
          places.map((p) => p[0]).join(' '),
          Date.now(),
        ),
      );
    },
    [change],
  );
  const editDesign = useCallback(
    (path: string, value: unknown) => {
      edit(`designs.${active.id}.${path}`, value);
    },
    [active.id, edit],
  );

  const onMerged = useCallback(
    (mine: Draft, merged: Draft, found: Clash[], newer: Conversion, news: boolean) => {
      change((h) => rebase(h, mine, merged));
      setVariants(variantsOf(newer));
      setClashes(found);
      if (news && found.length === 0) say('Changes made in another window were taken over.');
    },
    [change, say],
  );
  const { state: saveState, saver } = useAutosave({ id: conversion.id, draft, initial: conversion, onMerged });

  const changeVariants = useCallback(
    async (action: () => Promise<string | null>, done: Message, to: string = stage) => {
      let next: string | null = null;
      try {
        await saver.sync(async () => {
          next = await action();
        });
        setMessage(done);
        if (next !== null) navigate(`/c/${conversion.id}/${to}/${next as string}`);
      } catch (error) {
        say(error instanceof Error ? error.message : 'That did not work.');
      }
    },
    [conversion.id, navigate, saver, say, stage],
  );
  const addVariant = useCallback(
    (design?: Design, to?: string, done?: string) => {
      void changeVariants(
        async () => {
          const added = await reach(() =>
            api.POST('/api/v1/conversions/{id}/designs', {
              params: { path: { id: conversion.id } },
              body: design ? { design } : { copy_of: active.id },
            }),
          );
          return unwrap(added).label;
        },
        { text: done ?? (design ? 'Made a variant of it.' : `Copied ${active.label}.`) },
        to,
      );
    },
    [active, changeVariants, conversion.id],
  );
  const removeVariant = useCallback(
    (id: string) => {
      const label = variants.find((v) => v.id === id)?.label ?? '';
      let removed: Design | undefined;
      const back = () => {
        addVariant(removed, undefined, `${label} is back.`);
      };
      void changeVariants(
        async () => {
          // The version is read anew: a removal is meant for the variant as it stands.
          const now = unwrap(
            await reach(() => api.GET('/api/v1/conversions/{id}', { params: { path: { id: conversion.id } } })),
          );
          const found = now.designs.find((d) => d.id === id);
          if (!found) return null;
          removed = found.design;
          await reach(() =>
            api.DELETE('/api/v1/designs/{id}', { params: { path: { id }, query: { version: found.version } } }),
          );
          return now.designs.find((d) => d.id !== id)?.label ?? null;
        },
        { text: `${label} removed.`, action: { word: 'Put it back', act: back } },
      );
    },
    [addVariant, changeVariants, conversion.id, variants],
  );

  const [figure, setFigure] = useState<string | null>(null);
  const setUnits = useCallback(
    (units: UnitSystem) => {
      edit('units', units);
    },
    [edit],
  );
  const undo = useCallback(() => {
    change(undoHistory);
  }, [change]);
  const redo = useCallback(() => {
    change(redoHistory);
  }, [change]);

  const choose = useCallback(
    (chosen: ReadonlySet<string>) => {
      change((h) => settle(h, clashes, chosen));
      setClashes([]);
      void client.invalidateQueries({ queryKey: ['conversions'] });
    },
    [change, clashes, client],
  );
  const clear = useCallback(() => {
    setMessage({ text: '' });
  }, []);

  const results = useMemo<Results>(
    () => ({ settled, computed, claims, figure, setFigure }),
    [claims, computed, figure, settled],
  );
  const saving = useMemo<Saving>(
    () => ({
      state: saveState,
      retry: () => {
        saver.retry();
      },
    }),
    [saveState, saver],
  );
  const [canUndo, canRedo] = [history.past.length > 0, history.future.length > 0];
  const { id } = conversion;
  // What has not changed repaints nothing: neither a save nor a message touches a stage.
  const value = useMemo<Workbench>(
    () => ({
      id,
      draft,
      edit,
      editAll,
      editDesign,
      variants,
      active,
      document,
      canUndo,
      canRedo,
      undo,
      redo,
      addVariant,
      removeVariant,
      setUnits,
      say,
    }),
    [
      id,
      draft,
      edit,
      editAll,
      editDesign,
      variants,
      active,
      document,
      canUndo,
      canRedo,
      undo,
      redo,
      addVariant,
      removeVariant,
      setUnits,
      say,
    ],
  );

  return (
    <WorkbenchContext value={value}>
      <UnitsContext value={draft.units}>
        <CurrencyContext value={draft.brief.currency ?? ''}>
          <SavingContext value={saving}>
            <FreshnessContext value={freshness}>
              <BandsContext value={bands}>
                <AheadContext value={asked}>
                  <ResultsContext value={results}>{children}</ResultsContext>
                </AheadContext>
              </BandsContext>
            </FreshnessContext>
          </SavingContext>
        </CurrencyContext>
      </UnitsContext>
      <ClashDialog clashes={clashes} onChoose={choose} />
      <MessageBar message={message} onClear={clear} />
    </WorkbenchContext>
  );
}
