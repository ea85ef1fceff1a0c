import type { BlockView, LayoutSheet } from '../../api/types';

/** A move of one block that has not been let go of yet, m. */
export interface Move {
  path: string;
  along: number;
  right: number;
  up: number;
}

/** Whether a block goes along with a move lengthways: itself, or as what nobody has placed goes with the motor. */
export const goesAlong = (sheet: LayoutSheet, block: BlockView, move: Move | null): boolean => {
  if (!move) return false;
  const moved = sheet.blocks.find((b) => b.path === move.path);
  return block.path === move.path || (moved?.kind === 'motor' && block.with_motor);
};

/** A block as it stands during a move. */
export function during(sheet: LayoutSheet, block: BlockView, move: Move | null): BlockView {
  if (!move || !goesAlong(sheet, block, move)) return block;
  const own = block.path === move.path;
  return {
    ...block,
    along_m: block.along_m + move.along,
    right_m: block.right_m + (own ? move.right : 0),
    up_m: block.up_m + (own ? move.up : 0),
  };
}

/**
 * Laden loads during a move: each is a sum of masses times ways, so it changes by mass times way times what the core has said that a
 * kilogram a metre further back adds to it.
 */
export function laden(sheet: LayoutSheet, move: Move | null) {
  const state = sheet.states.at(-1);
  let kgM = 0;
  for (const b of sheet.blocks) {
    if (goesAlong(sheet, b, move)) kgM += (b.kind === 'removed' ? -1 : 1) * b.mass_kg * (move?.along ?? 0);
  }
  const more = kgM * sheet.per_kg_m;
  return {
    front: (state?.front_kg ?? 0) - more,
    rear: (state?.rear_kg ?? 0) + more,
    limits: sheet.limits.map((l) => ({ ...l, laden_kg: l.laden_kg + kgM * l.per_kg_m })),
  };
}

const hundredth = (x: number) => Math.round(x * 100) / 100;

/** What a move writes: the places it changed and no others, to the centimetre. */
export function written(block: BlockView, at: string, move: Move): [string, unknown][] {
  const places: [string, unknown][] = [];
  if (move.along !== 0) {
    places.push([`${at}.along`, { behind_front_axle_m: hundredth(block.along_m + move.along) }]);
  }
  if (move.right !== 0) places.push([`${at}.right_m`, hundredth(block.right_m + move.right)]);
  if (move.up !== 0) places.push([`${at}.up_m`, Math.max(0, hundredth(block.up_m + move.up))]);
  return places;
}
