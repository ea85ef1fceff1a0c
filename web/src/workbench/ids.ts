/** An id that no other window gives away either, for items that two of them may add at once. */
export const newId = () => Math.random().toString(36).slice(2, 12);

/** An id that is not taken: the stem with the next number. */
export const freshId = (stem: string, taken: string[]) => {
  let n = taken.length + 1;
  while (taken.includes(`${stem}-${String(n)}`)) n += 1;
  return `${stem}-${String(n)}`;
};
