import type { Sentence } from '../api/types';
import { useSaid } from './UnitsContext';

/** A sentence of the core in the units and currency shown. */
export function Said({ of }: { of: Sentence }) {
  return <>{useSaid()(of)}</>;
}
