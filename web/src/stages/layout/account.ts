import type { BlockView, LayoutSheet, UnitSystem } from '../../api/types';
import { field, shownUnit } from '../../units/units';

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

/** Two moves of the same block as one; of another block only the later one. */
export const summed = (first: Move | null, then: Move): Move =>
  first?.path === then.path
    ? { path: then.path, along: first.along + then.along, right: first.right + then.right, up: first.up + then.up }
    : then;

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
  let kgM = 0;
  for (const b of sheet.blocks) {
    if (goesAlong(sheet, b, move)) kgM += (b.kind === 'removed' ? -1 : 1) * b.mass_kg * (move?.along ?? 0);
  }
  const more = kgM * sheet.per_kg_m;
  return {
    front: sheet.front_kg - more,
    rear: sheet.rear_kg + more,
    limits: sheet.limits.map((l) => ({ ...l, laden_kg: l.laden_kg + kgM * l.per_kg_m })),
  };
}

/** To the millimetre, within what a place may be. */
const within = (x: number, [min, max]: readonly [number, number]) =>
  Math.min(Math.max(Math.round(x * 1000) / 1000, min), max);
const bounds = (group: string, key: string) => [field(group, key).min, field(group, key).max] as const;

/** How far an arrow key moves a block, m: a centimetre, or an inch where lengths are told in inches; with Shift ten times as far. */
export const nudge = (system: UnitSystem): number => (shownUnit('m', system) === 'in' ? 0.0254 : 0.01);

/** A block at the place that a document states of it, where it states one in metres. */
export function stated(block: BlockView, place: unknown): BlockView {
  const { along, right_m, up_m } = (place ?? {}) as { along?: unknown; right_m?: unknown; up_m?: unknown };
  const metres =
    typeof along === 'object' && along !== null ? (along as Record<string, unknown>)['behind_front_axle_m'] : null;
  const or = (said: unknown, told: number) => (typeof said === 'number' ? said : told);
  return {
    ...block,
    along_m: or(metres, block.along_m),
    right_m: or(right_m, block.right_m),
    up_m: or(up_m, block.up_m),
  };
}

/** What a move writes: the places it changed and no others. */
export function written(block: BlockView, at: string, move: Move): [string, unknown][] {
  const places: [string, unknown][] = [];
  if (move.along !== 0) {
    const metres = within(block.along_m + move.along, bounds('AxlePlace', 'behind_front_axle_m'));
    places.push([`${at}.along`, { behind_front_axle_m: metres }]);
  }
  if (move.right !== 0)
    places.push([`${at}.right_m`, within(block.right_m + move.right, bounds('Placement', 'right_m'))]);
  // Nothing is pulled into the ground.
  const [, highest] = bounds('Placement', 'up_m');
  if (move.up !== 0) places.push([`${at}.up_m`, within(block.up_m + move.up, [0, highest])]);
  return places;
}
