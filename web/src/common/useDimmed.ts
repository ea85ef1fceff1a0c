import { useEffect, useState } from 'react';

/** How long figures may be those before the last edit before that is shown: an answer that is quicker leaves nothing to repaint. */
const afterMs = 150;

/** A flag once it has been set for a while; at once when it is taken back. */
function useLate(flag: boolean): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    if (!flag) return undefined;
    const timer = setTimeout(() => {
      setLate(true);
    }, afterMs);
    return () => {
      clearTimeout(timer);
      setLate(false);
    };
  }, [flag]);
  return flag && late;
}

/** The look of figures that are those before the last edit while new ones are on their way. */
export function useDimmed(before: boolean): { opacity: number } {
  return { opacity: useLate(before) ? 0.6 : 1 };
}
