import { createContext, useCallback, useContext } from 'react';
import type { Sentence, UnitSystem } from '../api/types';
import { said } from './sentence';

export const UnitsContext = createContext<UnitSystem>('metric');

/** The currency amounts without one of their own are in. */
export const CurrencyContext = createContext('');

/** The unit system everything is shown in. */
export const useUnits = () => useContext(UnitsContext);

/** Turns sentences of the core into words in the units and currency shown. */
export function useSaid(): (sentence: Sentence) => string {
  const system = useUnits();
  const currency = useContext(CurrencyContext);
  return useCallback((sentence) => said(sentence, system, currency), [currency, system]);
}
