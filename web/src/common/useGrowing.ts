import { type RefObject, useEffect, useRef, useState } from 'react';

/** Rows drawn at first, and with each look at the end of those drawn. */
const step = 40;

/**
 * How many of a long list are drawn: a screenful, and more as its end comes into view, so that a list of thousands draws as fast as one of
 * tens. The mark goes behind the last row; another `key` (what is searched for, say) begins anew.
 */
export function useGrowing<E extends Element>(
  length: number,
  key: string,
): { shown: number; mark: RefObject<E | null> } {
  const [grown, setGrown] = useState({ key, shown: step });
  const shown = Math.min(length, grown.key === key ? grown.shown : step);
  const mark = useRef<E>(null);
  useEffect(() => {
    const end = mark.current;
    if (!end || shown >= length) return;
    const seen = new IntersectionObserver(
      (entries) => {
        if (entries.some((e) => e.isIntersecting)) setGrown({ key, shown: shown + step });
      },
      { rootMargin: '400px' },
    );
    seen.observe(end);
    return () => {
      seen.disconnect();
    };
  }, [key, length, shown]);
  return { shown, mark };
}
