import { createContext, useContext } from 'react';
import type { UnitSystem } from '../api/types';

export const UnitsContext = createContext<UnitSystem>('metric');

/** The unit system everything is shown in. */
export const useUnits = () => useContext(UnitsContext);
