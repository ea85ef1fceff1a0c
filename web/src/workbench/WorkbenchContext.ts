import { createContext, useContext, useSyncExternalStore } from 'react';
import type { Bands, Design, Document, Estimate, ProblemDocument, UnitSystem } from '../api/types';
import type { Draft, Variant } from './draft';
import type { JudgedClaim } from './judge';
import type { SaveState } from './saver';
import { Watched } from './watched';

/** The estimate of the active variant. */
export interface Computed {
  estimate: Estimate | undefined;
  /** Why there is none. */
  problem: ProblemDocument | null;
  /** The service is away. */
  away: boolean;
}

export interface Workbench {
  id: string;
  draft: Draft;
  /** Changes one dotted place of the draft; `undefined` removes it. What is typed over is the person's own from then on. */
  edit: (path: string, value: unknown) => void;
  /** Changes several dotted places as one step, as they are given: marks stay what they say. */
  editAll: (places: [string, unknown][]) => void;
  /** Changes one dotted place of the active variant's design. */
  editDesign: (path: string, value: unknown) => void;
  variants: Variant[];
  active: Variant;
  document: Document;
  canUndo: boolean;
  canRedo: boolean;
  undo: () => void;
  redo: () => void;
  /** Copies the active variant under the next letter, or begins one with a design and opens it in a stage. */
  addVariant: (design?: Design, stage?: string, done?: string) => void;
  /** Removes a variant, and offers to put it back. */
  removeVariant: (id: string) => void;
  setUnits: (units: UnitSystem) => void;
  /** Message to show once, such as the outcome of a merge. */
  say: (message: string) => void;
}

/** Whether everything is stored, for those who listen: it repaints a word and not a stage. */
export interface Saving {
  state: Watched<SaveState>;
  retry: () => void;
}

export const SavingContext = createContext<Saving>({
  state: new Watched<SaveState>({ kind: 'saved', at: null }),
  retry: () => undefined,
});

export function useSaving() {
  const { state, retry } = useContext(SavingContext);
  return { save: useSyncExternalStore(state.subscribe, state.get), retry };
}

/** What is computed of the active variant; apart from the draft, so that a keystroke does not repaint what it has not changed yet. */
export interface Results {
  /** The document once it has stood still for a moment: what costs more than an estimate waits for it. */
  settled: Document;
  computed: Computed;
  claims: JudgedClaim[];
  /** The headline figure looked at closely, if any. */
  figure: string | null;
  setFigure: (figure: string | null) => void;
}

export const ResultsContext = createContext<Results | null>(null);

export function useResults(): Results {
  const results = useContext(ResultsContext);
  if (!results) throw new Error('outside of a workbench');
  return results;
}

/** Whether what is shown is of the document as it stands; apart, so that an edit alone repaints no figure. */
export interface Freshness {
  /** The estimate belongs to the edit before; a new one is on its way. */
  stale: boolean;
  bandsFresh: boolean;
}

export const FreshnessContext = createContext<Freshness>({ stale: false, bandsFresh: true });

export const useFreshness = () => useContext(FreshnessContext);

/** Bands of the active variant; those of the edit before while new ones are on their way. */
export const BandsContext = createContext<Bands | undefined>(undefined);

export const useBands = () => useContext(BandsContext);

export const WorkbenchContext = createContext<Workbench | null>(null);

export function useWorkbench(): Workbench {
  const workbench = useContext(WorkbenchContext);
  if (!workbench) throw new Error('outside of a workbench');
  return workbench;
}
