import type { Match } from '../../api/types';
import type { Frame } from '../../charts/Scatter';
import { type Axis, valueOf } from './words';

/** Which two figures are drawn, and the part of the drawing that is looked at. */
export interface Plane {
  x: Axis;
  y: Axis;
  brush: Frame | null;
}

export const within = (m: Match, plane: Plane) => {
  if (!plane.brush) return true;
  const [x, y] = [valueOf(m, plane.x), valueOf(m, plane.y)];
  const { brush } = plane;
  return x !== null && y !== null && x >= brush.x[0] && x <= brush.x[1] && y >= brush.y[0] && y <= brush.y[1];
};

export const keyOf = (m: Match) => JSON.stringify(m.pick);
