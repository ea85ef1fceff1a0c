import { replaceEqualDeep } from '@tanstack/react-query';
import { useState } from 'react';

/**
 * A value of plain data whose parts keep their identity where they are as they were the time before, so that nothing is drawn anew for
 * them. While `hold` is set, it is the value of the time before.
 */
export function useShared<T>(value: T, hold = false): T {
  const [kept, keep] = useState(value);
  const next = hold ? kept : replaceEqualDeep(kept, value);
  if (next !== kept) keep(next);
  return next;
}
