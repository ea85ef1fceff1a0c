import type { BlockView, LayoutSheet } from '../../api/types';
import { goesAlong, type Move } from './account';

/** Nearer than this, a block that is dragged jumps to an edge or a middle, m. */
export const NEAR_M = 0.03;

/** Centre and size of something that a block is lined up with: a bay, or another block. */
export interface Place {
  name: string;
  along_m: number;
  right_m: number;
  up_m: number;
  length_m: number;
  width_m: number;
  height_m: number;
}

/** Bays that are measured, and blocks other than this one that did not come out. */
export function placesBeside(sheet: LayoutSheet, path: string): Place[] {
  const bays = sheet.bays.flatMap((b) => {
    const [length_m, width_m, height_m] = b.size_m ?? [];
    if (length_m === undefined || width_m === undefined || height_m === undefined) return [];
    const { name, along_m, right_m, up_m } = b;
    return [{ name, along_m, right_m, up_m, length_m, width_m, height_m }];
  });
  // What goes along with it is no place to be lined up with.
  const still = (b: BlockView) => !goesAlong(sheet, b, { path, along: 1, right: 0, up: 0 });
  return [...bays, ...sheet.blocks.filter((b) => b.path !== path && b.kind !== 'removed' && still(b))];
}

const ways = [
  { move: 'along', centre: 'along_m', size: 'length_m' },
  { move: 'right', centre: 'right_m', size: 'width_m' },
  { move: 'up', centre: 'up_m', size: 'height_m' },
] as const;

/**
 * A move after which the block's edges or middle fall on edges or middles of what lies beside it, where they come near; each way by
 * itself, and only ways that it is moved at all. The middle of the vehicle counts, too.
 */
export function snapped(sheet: LayoutSheet, block: BlockView, move: Move): Move {
  const beside = placesBeside(sheet, block.path);
  const next = { ...move };
  for (const { move: way, centre, size } of ways) {
    if (move[way] === 0) continue;
    const at = block[centre] + move[way];
    const own = [at - block[size] / 2, at, at + block[size] / 2];
    const targets = beside.flatMap((p) => [p[centre] - p[size] / 2, p[centre], p[centre] + p[size] / 2]);
    if (way === 'right') targets.push(0);
    let best = NEAR_M;
    let by = 0;
    for (const target of targets) {
      for (const edge of own) {
        const gap = target - edge;
        if (Math.abs(gap) < best) {
          best = Math.abs(gap);
          by = gap;
        }
      }
    }
    next[way] = move[way] + by;
  }
  return next;
}

export type Side = 'front' | 'along' | 'rear' | 'left' | 'across' | 'right' | 'top' | 'up' | 'bottom';

/** Where the block's centre comes to lie when one of its sides or middles is lined up with that of something else. */
export function aligned(block: Place, to: Place, side: Side): { key: 'along_m' | 'right_m' | 'up_m'; value: number } {
  const line = (
    centre: 'along_m' | 'right_m' | 'up_m',
    size: 'length_m' | 'width_m' | 'height_m',
    end: -1 | 0 | 1,
  ) => ({
    key: centre,
    value: to[centre] + (end * (to[size] - block[size])) / 2,
  });
  switch (side) {
    case 'front':
      return line('along_m', 'length_m', -1);
    case 'along':
      return line('along_m', 'length_m', 0);
    case 'rear':
      return line('along_m', 'length_m', 1);
    case 'left':
      return line('right_m', 'width_m', -1);
    case 'across':
      return line('right_m', 'width_m', 0);
    case 'right':
      return line('right_m', 'width_m', 1);
    case 'bottom':
      return line('up_m', 'height_m', -1);
    case 'up':
      return line('up_m', 'height_m', 0);
    case 'top':
      return line('up_m', 'height_m', 1);
  }
}
