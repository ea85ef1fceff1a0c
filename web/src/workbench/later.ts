/** Runs something later; the result takes it back. */
export type Later = (ms: number, run: () => void) => () => void;

/** By the clock of the browser. */
export const later: Later = (ms, run) => {
  const timer = setTimeout(run, ms);
  return () => {
    clearTimeout(timer);
  };
};
