import type { BlockView, Outline } from '../../api/types';

/** Drawing units across, whatever the vehicle's length, so that words are equally large. */
const across = 640;
const margin = 26;
const between = 66;

/** Where metres of the vehicle lie on the drawing: along, above the ground in the side view, to the right in the plan below it. */
export interface Frame {
  perMetre: number;
  width: number;
  height: number;
  margin: number;
  ground: number;
  planTop: number;
  x: (along: number) => number;
  z: (up: number) => number;
  y: (right: number) => number;
}

/** The frame that holds the body and every block as it rests: it stays while one is pulled. */
export function frameOf(o: Outline, blocks: BlockView[]): Frame {
  const ends = (low: number, high: number, centre: (b: BlockView) => number, size: (b: BlockView) => number) =>
    blocks.reduce<[number, number]>(
      ([a, z], b) => [Math.min(a, centre(b) - size(b) / 2), Math.max(z, centre(b) + size(b) / 2)],
      [low, high],
    );
  const [x0, x1] = ends(
    -o.overhang_front_m,
    o.wheelbase_m + o.overhang_rear_m,
    (b) => b.along_m,
    (b) => b.length_m,
  );
  const [, top] = ends(
    0,
    o.height_m,
    (b) => b.up_m,
    (b) => b.height_m,
  );
  const [y0, y1] = ends(
    -o.width_m / 2,
    o.width_m / 2,
    (b) => b.right_m,
    (b) => b.width_m,
  );
  const perMetre = (across - 2 * margin) / (x1 - x0);
  const ground = 24 + top * perMetre;
  const planTop = ground + between;
  return {
    perMetre,
    width: across,
    height: planTop + (y1 - y0) * perMetre + margin / 2,
    margin,
    ground,
    planTop,
    x: (along) => (along - x0) * perMetre + margin,
    z: (up) => ground - up * perMetre,
    // Seen from above with the front to the left, the right side is up.
    y: (right) => planTop + (y1 - right) * perMetre,
  };
}
