import { startTransition, useEffect, useState } from 'react';

/** A value once what came with it has been painted; the one before until then. For what is heavy to draw, or can be asked for later. */
export function useAfterPaint<T>(value: T): T {
  const [shown, setShown] = useState(value);
  useEffect(() => {
    let timer: number | undefined;
    // A timer set within a frame runs after that has been painted.
    const frame = requestAnimationFrame(() => {
      timer = window.setTimeout(() => {
        startTransition(() => {
          setShown(() => value);
        });
      });
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
    };
  }, [value]);
  return shown;
}
