import { useEffect, useState } from 'react';

/** A value once it has not changed for a while; the one before until then. */
export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => {
      setSettled(value);
    }, ms);
    return () => {
      clearTimeout(timer);
    };
  }, [ms, value]);
  return settled;
}
