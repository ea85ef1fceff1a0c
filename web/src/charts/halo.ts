/** Keeps words on a drawing apart from the lines and points they lie on. */
export const halo = (background: string) =>
  ({ stroke: background, strokeWidth: 3, strokeLinejoin: 'round', paintOrder: 'stroke' }) as const;
