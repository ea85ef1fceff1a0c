import { type RefObject, useLayoutEffect, useRef, useState } from 'react';

/** Width of an element as it stands, px, so that what is drawn in it keeps its letters whole on a phone. */
export function useWidth<T extends Element>(first: number): [RefObject<T | null>, number] {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const measure = () => {
      const now = element.getBoundingClientRect().width;
      if (now > 0) setWidth(now);
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => {
      observer.disconnect();
    };
  }, []);
  return [ref, width];
}
