import { createContext, useContext, useEffect } from 'react';
import type { Document } from '../api/types';

/** Asks for what is shown of a document, before the edit that made it is drawn. */
export type Ask = (document: Document) => void;

/** What a stage asks for beside the estimate, as long as it is shown. */
export const AheadContext = createContext<Set<Ask>>(new Set());

/** Has something asked for with every edit, a drawing of the page earlier than a query of its own would; `ask` stays the same. */
export function useAhead(ask: Ask) {
  const asked = useContext(AheadContext);
  useEffect(() => {
    asked.add(ask);
    return () => {
      asked.delete(ask);
    };
  }, [ask, asked]);
}
