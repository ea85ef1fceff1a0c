import type { Underlay } from '../../api/types';

/**
 * Matrix `a b c d e f` that lays a picture of unit width and `tall` height (down positive) so that its two wheels fall on two points of the
 * drawing: moved, turned and scaled alike both ways, and mirrored where it was taken from the other side. Nothing where the wheels fall
 * together.
 */
export function laidUnder(
  under: Underlay,
  tall: number,
  front: readonly [number, number],
  rear: readonly [number, number],
): [number, number, number, number, number, number] | null {
  const mirrored = under.front_across > under.rear_across;
  const flip = mirrored ? -1 : 1;
  const [u1, v1] = [flip * under.front_across, tall * under.front_down];
  const [u2, v2] = [flip * under.rear_across, tall * under.rear_down];
  const [du, dv] = [u2 - u1, v2 - v1];
  const [dx, dy] = [rear[0] - front[0], rear[1] - front[1]];
  const length = du * du + dv * dv;
  if (length < 1e-6) return null;
  // Multiplying by (dx + i dy) / (du + i dv).
  const p = (dx * du + dy * dv) / length;
  const q = (dy * du - dx * dv) / length;
  return [p * flip, q * flip, -q, p, front[0] - (p * u1 - q * v1), front[1] - (q * u1 + p * v1)];
}
