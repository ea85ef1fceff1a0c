/** An id that is not taken: the stem with the next number. */
export const freshId = (stem: string, taken: string[]) => {
  let n = taken.length + 1;
  while (taken.includes(`${stem}-${String(n)}`)) n += 1;
  return `${stem}-${String(n)}`;
};
