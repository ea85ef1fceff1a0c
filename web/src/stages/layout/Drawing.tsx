import { useTheme } from '@mui/material/styles';
import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import type { BlockView, LayoutSheet } from '../../api/types';
import { mono } from '../../theme';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { during, laden, type Move, nudge } from './account';
import { outlines } from './outlines';

/** Drawing units across, whatever the vehicle's length, so that words are equally large. */
const across = 640;
const margin = 26;
const between = 66;

interface Props {
  sheet: LayoutSheet;
  shown: BlockView[];
  chosen: string | null;
  onChoose: (path: string) => void;
  move: Move | null;
  onMove: (move: Move | null) => void;
  onDrop: (move: Move) => void;
}

/** The vehicle to scale, from the left side and from above; blocks are dragged, or nudged by the arrow keys. */
export function Drawing({ sheet, shown, chosen, onChoose, move, onMove, onDrop }: Props) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const system = useUnits();
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<{ path: string; view: 'side' | 'plan'; x: number; y: number } | null>(null);
  const o = sheet.outline;
  const blocks = shown.map((b) => during(sheet, b, move));
  const ends = (low: number, high: number, of: (b: BlockView) => [number, number]) => {
    const all = blocks.map(of);
    return [Math.min(low, ...all.map((e) => e[0])), Math.max(high, ...all.map((e) => e[1]))] as const;
  };
  const [x0, x1] = ends(-o.overhang_front_m, o.wheelbase_m + o.overhang_rear_m, (b) => [
    b.along_m - b.length_m / 2,
    b.along_m + b.length_m / 2,
  ]);
  const [, top] = ends(0, o.height_m, (b) => [0, b.up_m + b.height_m / 2]);
  const [y0, y1] = ends(-o.width_m / 2, o.width_m / 2, (b) => [b.right_m - b.width_m / 2, b.right_m + b.width_m / 2]);
  const width = across;
  const scale = (across - 2 * margin) / (x1 - x0);
  const x = (m: number) => (m - x0) * scale + margin;
  const ground = 24 + top * scale;
  const z = (m: number) => ground - m * scale;
  // Seen from above with the front to the left, the right side is up.
  const planTop = ground + between;
  const y = (m: number) => planTop + (y1 - m) * scale;
  const height = planTop + (y1 - y0) * scale + margin / 2;
  const now = laden(sheet, move);
  const over = (id: string) => now.limits.some((l) => l.id === id && l.laden_kg > l.limit_kg);

  const metres = (e: PointerEvent) => {
    const to = svg.current?.getScreenCTM();
    if (!to) return { x: 0, y: 0 };
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(to.inverse());
    return { x: p.x / scale, y: p.y / scale };
  };
  const moved = (view: 'side' | 'plan', path: string, dx: number, dy: number): Move => ({
    path,
    along: dx,
    right: view === 'plan' ? -dy : 0,
    up: view === 'side' ? -dy : 0,
  });
  const onPointerDown = (view: 'side' | 'plan', b: BlockView) => (e: PointerEvent<SVGGElement>) => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    held.current = { path: b.path, view, ...metres(e) };
    onChoose(b.path);
  };
  const pulled = (e: PointerEvent) => {
    const h = held.current;
    if (!h) return null;
    const p = metres(e);
    return moved(h.view, h.path, p.x - h.x, p.y - h.y);
  };
  const onPointerMove = (e: PointerEvent) => {
    const to = pulled(e);
    // A click that trembles is no move.
    if (to && (move || Math.hypot(to.along, to.right, to.up) > 0.02)) onMove(to);
  };
  const onPointerUp = (e: PointerEvent) => {
    const to = pulled(e);
    held.current = null;
    if (to && move) onDrop(to);
  };
  const onPointerCancel = () => {
    held.current = null;
    onMove(null);
  };
  const onKeyDown = (view: 'side' | 'plan', b: BlockView) => (e: KeyboardEvent) => {
    if (e.key === 'Escape' && move) {
      e.preventDefault();
      held.current = null;
      onMove(null);
      return;
    }
    if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      onChoose(b.path);
      return;
    }
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!way || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    const step = (e.shiftKey ? 10 : 1) * nudge(system);
    onDrop(moved(view, b.path, (way[0] ?? 0) * step, (way[1] ?? 0) * step));
  };

  const fill = (b: BlockView) =>
    b.kind === 'removed' ? 'none' : b.kind === 'driver' || b.kind === 'payload' ? vars.action.hover : vars.sheet.flow;
  const one = (view: 'side' | 'plan') => (b: BlockView) => {
    const n = sheet.blocks.findIndex((other) => other.path === b.path) + 1;
    const left = x(b.along_m - b.length_m / 2);
    const upper = view === 'side' ? z(b.up_m + b.height_m / 2) : y(b.right_m + b.width_m / 2);
    const w = b.length_m * scale;
    const h = (view === 'side' ? b.height_m : b.width_m) * scale;
    const picked = b.path === chosen;
    const where =
      view === 'side'
        ? `${showText(b.up_m, 'm', system, 3)} above the ground`
        : `${showText(Math.abs(b.right_m), 'm', system, 3)} ${b.right_m < 0 ? 'left' : 'right'} of the middle`;
    return (
      <g
        key={b.path}
        data-block={`${view}:${b.path}`}
        role="button"
        tabIndex={picked || (chosen === null && n === 1) ? 0 : -1}
        aria-pressed={picked}
        aria-label={`${String(n)} ${b.name}, ${showText(b.mass_kg, 'kg', system, 3)}, ${showText(b.along_m, 'm', system, 3)} behind the front axle, ${where}`}
        onPointerDown={onPointerDown(view, b)}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={onPointerCancel}
        onKeyDown={onKeyDown(view, b)}
        style={{ cursor: 'grab', touchAction: 'none', outline: 'none' }}
        className="block"
      >
        <rect
          x={left}
          y={upper}
          width={w}
          height={h}
          fill={fill(b)}
          fillOpacity={0.82}
          stroke={picked ? vars.sheet.signal : b.kind === 'removed' ? vars.text.secondary : vars.sheet.strong}
          strokeWidth={picked ? 2.4 : 1.1}
          strokeDasharray={b.kind === 'removed' ? '5 4' : b.sized_by === 'said' ? undefined : '1.5 2.5'}
        />
        <text
          x={left + 4}
          y={upper + 13}
          fontFamily={mono}
          fontSize={12}
          fontWeight={picked ? 700 : 500}
          fill={picked ? vars.sheet.signal : vars.text.primary}
        >
          {n}
        </text>
      </g>
    );
  };
  // Heavier ones behind lighter ones, the chosen one in front.
  const inTurn = [...blocks].sort((a, b) =>
    a.path === chosen ? 1 : b.path === chosen ? -1 : b.length_m * b.height_m - a.length_m * a.height_m,
  );
  const wheels = (track: number) => (track > 0 ? [-track / 2, track / 2] : [0]);
  const r = o.wheel_radius_m;
  const tyre = Math.min(0.34 * r * 2, 0.24);
  const axle = (name: string, at: number, kg: number, limit: string) => {
    const rated = now.limits.find((l) => l.id === limit);
    const high = over(limit) || kg < 0;
    return (
      <g>
        <line
          x1={x(at)}
          x2={x(at)}
          y1={ground + 30}
          y2={ground + 4}
          stroke={high ? vars.sheet.signal : vars.text.primary}
          strokeWidth={1.6}
        />
        <path
          d={`M ${String(x(at))} ${String(ground + 3)} l -4 9 h 8 z`}
          fill={high ? vars.sheet.signal : vars.text.primary}
        />
        <text
          x={x(at) + 9}
          y={ground + 26}
          fontFamily={mono}
          fontSize={14}
          fontWeight={650}
          fill={high ? vars.sheet.signal : vars.text.primary}
          data-testid={`load-${limit}`}
        >
          {showText(kg, 'kg', system, 3)}
          <tspan fontWeight={400} fontSize={12} fill={vars.text.secondary}>
            {rated ? ` of ${showText(rated.limit_kg, 'kg', system, 3)}` : ` ${name}`}
          </tspan>
        </text>
      </g>
    );
  };
  const letters: Record<string, string> = { donor: 'D', stripped: 'S', converted: 'C', driver: '+', laden: 'L' };
  const path = sheet.states.filter((s) => s.id !== 'driver');
  const gravity = (view: 'side' | 'plan') => {
    const cy = (s: { up_m: number; right_m: number }) => (view === 'side' ? z(s.up_m) : y(s.right_m));
    return (
      <g pointerEvents="none">
        <polyline
          points={path.map((s) => `${x(s.along_m).toFixed(1)},${cy(s).toFixed(1)}`).join(' ')}
          fill="none"
          stroke={vars.sheet.signal}
          strokeWidth={1.4}
        />
        {path.map((s, i) => (
          <g key={s.id}>
            <circle
              cx={x(s.along_m)}
              cy={cy(s)}
              r={s.id === 'laden' ? 6 : 4}
              fill={s.id === 'laden' ? vars.sheet.signal : vars.background.default}
              stroke={vars.sheet.signal}
              strokeWidth={1.6}
            />
            <text
              x={x(s.along_m)}
              y={cy(s) + (i % 2 === 0 ? -10 : 19)}
              textAnchor="middle"
              fontSize={12}
              fontWeight={700}
              fill={vars.sheet.signal}
              stroke={vars.background.default}
              strokeWidth={3}
              paintOrder="stroke"
            >
              {letters[s.id]}
            </text>
          </g>
        ))}
      </g>
    );
  };
  // Cables stand still during a move; they follow when it is let go of.
  const runs = (view: 'side' | 'plan') =>
    !move &&
    sheet.cables.map((c) => (
      <polyline
        key={c.id}
        points={c.corners_m
          .map(
            ([along = 0, right = 0, up = 0]) =>
              `${x(along).toFixed(1)},${(view === 'side' ? z(up) : y(right)).toFixed(1)}`,
          )
          .join(' ')}
        fill="none"
        stroke={c.id === 'traction' ? vars.warning.main : vars.secondary.main}
        strokeWidth={c.id === 'traction' ? 3 : 1.8}
        strokeLinejoin="round"
        pointerEvents="none"
      />
    ));
  const line = { fill: 'none', stroke: vars.sheet.strong, strokeWidth: 1.6 };
  const bodyX = x(-o.overhang_front_m);
  const bodyW = (o.overhang_front_m + o.wheelbase_m + o.overhang_rear_m) * scale;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${width.toFixed(0)} ${height.toFixed(0)}`}
      role="group"
      aria-label="The vehicle to scale, from the side and from above"
      data-testid="layout-drawing"
      style={{ display: 'block', width: '100%', minWidth: 560, maxHeight: '78vh', userSelect: 'none' }}
    >
      <style>{`.block:focus-visible rect { stroke: ${vars.primary.main}; stroke-width: 3; }`}</style>
      <text x={margin} y={14} fontSize={12} fill={vars.text.secondary}>
        ← front, from the left side
      </text>
      <polygon
        points={outlines[o.kind]
          .map(([a, b]) => `${(bodyX + a * bodyW).toFixed(1)},${z(b * o.height_m).toFixed(1)}`)
          .join(' ')}
        strokeLinejoin="round"
        {...line}
        stroke={vars.text.secondary}
        strokeOpacity={0.6}
      />
      <line
        x1={margin / 2}
        x2={width - margin / 2}
        y1={ground}
        y2={ground}
        stroke={vars.sheet.strong}
        strokeWidth={1}
      />
      {[0, o.wheelbase_m].map((at) => (
        <g key={at}>
          <circle cx={x(at)} cy={z(r)} r={r * scale} {...line} fill={vars.background.default} fillOpacity={0.6} />
          <circle cx={x(at)} cy={z(r)} r={2} fill={vars.sheet.strong} />
        </g>
      ))}
      {runs('side')}
      {inTurn.map(one('side'))}
      {gravity('side')}
      {axle('front', 0, now.front, 'front_axle')}
      {axle('rear', o.wheelbase_m, now.rear, 'rear_axle')}
      <text x={margin} y={planTop - 8} fontSize={12} fill={vars.text.secondary}>
        from above
      </text>
      <rect
        x={bodyX}
        y={y(o.width_m / 2)}
        width={bodyW}
        height={o.width_m * scale}
        rx={0.16 * scale}
        {...line}
        stroke={vars.text.secondary}
        strokeOpacity={0.6}
      />
      <line
        x1={bodyX}
        x2={bodyX + bodyW}
        y1={y(0)}
        y2={y(0)}
        stroke={vars.divider}
        strokeDasharray="12 4 2 4"
        strokeWidth={1}
      />
      {[
        [0, o.track_front_m],
        [o.wheelbase_m, o.track_rear_m],
      ].map(([at = 0, track = 0]) =>
        wheels(track).map((side) => (
          <rect
            key={`${String(at)} ${String(side)}`}
            x={x(at - r)}
            y={y(side + tyre / 2)}
            width={2 * r * scale}
            height={tyre * scale}
            rx={4}
            {...line}
            strokeWidth={1.2}
          />
        )),
      )}
      {runs('plan')}
      {inTurn.map(one('plan'))}
      {gravity('plan')}
    </svg>
  );
}
