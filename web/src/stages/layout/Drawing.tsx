import { useTheme } from '@mui/material/styles';
import { useRef } from 'react';
import type { BlockView, BoltPattern, Donor, LayoutSheet, Photograph } from '../../api/types';
import { pictureOf } from '../../common/photographs';
import { during, laden, type Move } from './account';
import { BlockShape } from './BlockShape';
import { frameOf } from './frame';
import { Axle, Bays, Gravity, Holes } from './Marks';
import { outlines } from './outlines';
import { laidUnder } from './laidUnder';
import { useHeld, type View } from './useHeld';

interface Props {
  sheet: LayoutSheet;
  shown: BlockView[];
  holes: BoltPattern[];
  underlays: Donor['underlays'];
  photographs: Photograph[];
  chosen: string | null;
  onChoose: (path: string) => void;
  move: Move | null;
  onMove: (move: Move | null) => void;
  onDrop: (move: Move) => void;
  snap: (move: Move) => Move;
}

/** The vehicle to scale, from the left side and from above; blocks are dragged, or nudged by the arrow keys. */
export function Drawing({
  sheet,
  shown,
  holes,
  underlays,
  photographs,
  chosen,
  onChoose,
  move,
  onMove,
  onDrop,
  snap,
}: Props) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const svg = useRef<SVGSVGElement>(null);
  const o = sheet.outline;
  const frame = frameOf(o, shown);
  const { x, y, z, perMetre } = frame;
  const hand = useHeld(svg, perMetre, onChoose, onMove, onDrop, snap);
  const now = laden(sheet, move);
  const rated = (of: 'front_axle' | 'rear_axle') => now.limits.find((l) => l.of === of);
  // Larger ones behind smaller ones, the chosen one in front.
  const inTurn = [...shown].sort((a, b) =>
    a.path === chosen ? 1 : b.path === chosen ? -1 : b.length_m * b.height_m - a.length_m * a.height_m,
  );
  const blocks = (view: View) =>
    inTurn.map((b) => {
      const number = sheet.blocks.indexOf(b) + 1;
      return (
        <BlockShape
          key={b.path}
          block={during(sheet, b, move)}
          number={number}
          view={view}
          frame={frame}
          picked={b.path === chosen}
          entry={b.path === chosen || (chosen === null && number === 1)}
          hand={hand.block(view, b)}
        />
      );
    });
  // Cables stand still during a move; they follow when it is let go of.
  const runs = (view: View) =>
    !move &&
    sheet.cables.map((c) => (
      <polyline
        key={c.kind}
        points={c.corners_m
          .map(([along = 0, right = 0, up = 0]) => [x(along), view === 'side' ? z(up) : y(right)].join(','))
          .join(' ')}
        fill="none"
        stroke={c.kind === 'traction' ? vars.warning.main : vars.secondary.main}
        strokeWidth={c.kind === 'traction' ? 3 : 1.8}
        strokeLinejoin="round"
        pointerEvents="none"
      />
    ));
  const under = (view: View) => {
    const own = underlays?.[view];
    const of = own && photographs.find((p) => p.id === own.photograph);
    if (!of) return null;
    const tall = of.height / of.width;
    const at = (along: number) => [x(along), view === 'side' ? z(o.wheel_radius_m) : y(0)] as const;
    const matrix = laidUnder(own, tall, at(0), at(o.wheelbase_m));
    return (
      matrix && (
        <image
          href={pictureOf(of.id)}
          width={1}
          height={tall}
          preserveAspectRatio="none"
          opacity={own.strength ?? 0.5}
          transform={`matrix(${matrix.join(' ')})`}
          pointerEvents="none"
          data-testid={`underlay-${view}`}
        />
      )
    );
  };
  const body = { fill: 'none', stroke: vars.text.secondary, strokeOpacity: 0.6, strokeWidth: 1.6 };
  const wheel = { fill: vars.background.default, fillOpacity: 0.6, stroke: vars.sheet.strong, strokeWidth: 1.4 };
  const bodyX = x(-o.overhang_front_m);
  const bodyW = (o.overhang_front_m + o.wheelbase_m + o.overhang_rear_m) * perMetre;
  const r = o.wheel_radius_m;
  const tyre = Math.min(0.68 * r, 0.24);
  const axles = [
    { at: 0, track: o.track_front_m },
    { at: o.wheelbase_m, track: o.track_rear_m },
  ];
  const words = { fontSize: 12, fill: vars.text.secondary };
  return (
    <svg
      ref={svg}
      {...hand.sheet}
      viewBox={`0 0 ${frame.width.toFixed(0)} ${frame.height.toFixed(0)}`}
      role="group"
      aria-label="The vehicle to scale, from the side and from above"
      data-testid="layout-drawing"
      style={{ display: 'block', width: '100%', minWidth: 560, maxHeight: '78vh', userSelect: 'none' }}
    >
      <style>{`.block:focus-visible rect { stroke: ${vars.primary.main}; stroke-width: 3; }`}</style>
      <clipPath id="under-side">
        <rect width={frame.width} height={frame.ground + 36} />
      </clipPath>
      <clipPath id="under-plan">
        <rect y={frame.planTop - 22} width={frame.width} height={frame.height} />
      </clipPath>
      <g clipPath="url(#under-side)">{under('side')}</g>
      <g clipPath="url(#under-plan)">{under('plan')}</g>
      <text x={frame.margin} y={14} {...words}>
        ← front, from the left side
      </text>
      <polygon
        points={outlines[o.kind].map(([a, b]) => [bodyX + a * bodyW, z(b * o.height_m)].join(',')).join(' ')}
        strokeLinejoin="round"
        {...body}
      />
      <line
        x1={frame.margin / 2}
        x2={frame.width - frame.margin / 2}
        y1={frame.ground}
        y2={frame.ground}
        stroke={vars.sheet.strong}
      />
      {axles.map(({ at }) => (
        <g key={at}>
          <circle cx={x(at)} cy={z(r)} r={r * perMetre} {...wheel} />
          <circle cx={x(at)} cy={z(r)} r={2} fill={vars.sheet.strong} />
        </g>
      ))}
      <Bays view="side" sheet={sheet} frame={frame} />
      {runs('side')}
      {blocks('side')}
      <Holes view="side" patterns={holes} frame={frame} />
      <Gravity view="side" sheet={sheet} frame={frame} />
      <Axle name="front" at={0} kg={now.front} limit={rated('front_axle')} frame={frame} />
      <Axle name="rear" at={o.wheelbase_m} kg={now.rear} limit={rated('rear_axle')} frame={frame} />
      <text x={frame.margin} y={frame.planTop - 8} {...words}>
        from above
      </text>
      <rect x={bodyX} y={y(o.width_m / 2)} width={bodyW} height={o.width_m * perMetre} rx={0.16 * perMetre} {...body} />
      <line x1={bodyX} x2={bodyX + bodyW} y1={y(0)} y2={y(0)} stroke={vars.divider} strokeDasharray="12 4 2 4" />
      {axles.map(({ at, track }) =>
        (track > 0 ? [-track / 2, track / 2] : [0]).map((side) => (
          <rect
            key={`${String(at)} ${String(side)}`}
            x={x(at - r)}
            y={y(side + tyre / 2)}
            width={2 * r * perMetre}
            height={tyre * perMetre}
            rx={4}
            {...wheel}
          />
        )),
      )}
      <Bays view="plan" sheet={sheet} frame={frame} />
      {runs('plan')}
      {blocks('plan')}
      <Holes view="plan" patterns={holes} frame={frame} />
      <Gravity view="plan" sheet={sheet} frame={frame} />
    </svg>
  );
}
