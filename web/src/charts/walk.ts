/** A point on a plane. */
interface At {
  key: string;
  x: number;
  y: number;
}

/**
 * The point that a key leads to from another: left and right in the order of x, up and down in that of y, Home and End to the ends of x. Both
 * orders hold every point, also those that lie on one another, so that none is out of reach; null where the key leads nowhere.
 */
export function walk<P extends At>(points: readonly P[], from: string, pressed: string): P | null {
  const along = (a: 'x' | 'y', b: 'x' | 'y') =>
    [...points].sort((p, q) => p[a] - q[a] || p[b] - q[b] || (p.key < q.key ? -1 : 1));
  const across = () => along('x', 'y');
  const up = () => along('y', 'x');
  const step = (order: P[], by: number) => order[order.findIndex((p) => p.key === from) + by] ?? null;
  switch (pressed) {
    case 'ArrowRight':
      return step(across(), 1);
    case 'ArrowLeft':
      return step(across(), -1);
    case 'ArrowUp':
      return step(up(), 1);
    case 'ArrowDown':
      return step(up(), -1);
    case 'Home':
      return across()[0] ?? null;
    case 'End':
      return across().at(-1) ?? null;
    default:
      return null;
  }
}
