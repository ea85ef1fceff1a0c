import { useTheme } from '@mui/material/styles';
import { ticks } from 'd3-array';
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import { mono } from '../theme';
import { figures } from '../units/units';
import { halo } from './halo';
import { walk } from './walk';

/** Part of a plane, in stored units. */
export interface Frame {
  x: [number, number];
  y: [number, number];
}

/** One axis: what it spans in stored units, what is asked on it, and how stored values are shown. */
interface Scale {
  extent: [number, number];
  target: number | null;
  shown: (stored: number) => number;
  stored: (shown: number) => number;
}

/** A point in stored units; hollow, square, marked, faded or named to tell it from others. */
interface Point {
  key: string;
  /** What it is, to those who cannot see it. */
  name: string;
  x: number;
  y: number;
  square: boolean;
  hollow: boolean;
  marked: boolean;
  faded: boolean;
  label?: string | undefined;
  onPick: () => void;
}

interface Props {
  x: Scale;
  y: Scale;
  points: Point[];
  /** Says what the drawing shows to those who cannot see it. */
  summary: string;
  testId: string;
  frame: Frame | null;
  /** A frame was dragged. */
  onFrame: (frame: Frame) => void;
}

const width = 520;
const height = 270;
const left = 48;
const right = 12;
const top = 8;
const bottom = 26;

/** A drag shorter than this is a click, in units of the drawing. */
const LEAST_DRAG = 6;

/**
 * Points on a plane with what is asked on each axis dotted; dragging draws a frame. The keyboard enters at one point, arrows lead to the
 * others, and Enter picks as a click does.
 */
export function Scatter({ x, y, points, summary, testId, frame, onFrame }: Props) {
  const theme = useTheme();
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ from: [number, number]; to: [number, number] } | null>(null);
  // The one point that Tab reaches: the last that had the focus, the first before any had.
  const [stop, setStop] = useState<string | null>(null);
  const reached = points.some((p) => p.key === stop) ? stop : (points[0]?.key ?? null);
  const press = (e: KeyboardEvent, p: Point) => {
    if (e.key === 'Enter' || e.key === ' ') p.onPick();
    const next = walk(points, p.key, e.key);
    if (next) svg.current?.querySelector<SVGElement>(`[data-point="${CSS.escape(next.key)}"]`)?.focus();
    if (next !== null || e.key === 'Enter' || e.key === ' ') e.preventDefault();
  };
  const vars = theme.vars?.palette ?? theme.palette;
  const share = (s: Scale, v: number) => (v - s.extent[0]) / (s.extent[1] - s.extent[0]);
  const px = (v: number) => left + share(x, v) * (width - left - right);
  const py = (v: number) => height - bottom - share(y, v) * (height - top - bottom);
  const place = (e: PointerEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [((e.clientX - box.left) / box.width) * width, ((e.clientY - box.top) / box.height) * height];
  };
  const release = () => {
    if (!drag) return;
    setDrag(null);
    const [[x0, y0], [x1, y1]] = [drag.from, drag.to];
    if (Math.abs(x1 - x0) < LEAST_DRAG || Math.abs(y1 - y0) < LEAST_DRAG) return;
    const at = (s: Scale, part: number) => s.extent[0] + part * (s.extent[1] - s.extent[0]);
    const ux = (p: number) => at(x, (p - left) / (width - left - right));
    const uy = (p: number) => at(y, (height - bottom - p) / (height - top - bottom));
    onFrame({
      x: [ux(Math.min(x0, x1)), ux(Math.max(x0, x1))],
      y: [uy(Math.max(y0, y1)), uy(Math.min(y0, y1))],
    });
  };
  const drawn = drag
    ? { x: [drag.from[0], drag.to[0]] as const, y: [drag.from[1], drag.to[1]] as const }
    : frame && { x: frame.x.map(px), y: frame.y.map(py) };
  const tick = { fontSize: 10.5, fontFamily: mono, fill: vars.text.secondary };
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${String(width)} ${String(height)}`}
      width="100%"
      role="group"
      aria-label={summary}
      data-testid={testId}
      style={{ display: 'block', touchAction: 'none', cursor: 'crosshair', userSelect: 'none' }}
      onPointerDown={(e) => {
        const at = place(e);
        setDrag({ from: at, to: at });
      }}
      onPointerMove={(e) => {
        if (!drag) return;
        // Let go outside, before it had become a drag.
        if (e.buttons === 0) {
          setDrag(null);
          return;
        }
        const to = place(e);
        setDrag({ ...drag, to });
        // Only a drag follows the pointer out of the drawing: a click on a point stays that point's.
        if (Math.hypot(to[0] - drag.from[0], to[1] - drag.from[1]) >= LEAST_DRAG)
          e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerUp={release}
      onPointerCancel={() => {
        setDrag(null);
      }}
    >
      {ticks(y.shown(y.extent[0]), y.shown(y.extent[1]), 5).map((t) => {
        const at = py(y.stored(t));
        return (
          <g key={`y${String(t)}`}>
            <line x1={left} x2={width - right} y1={at} y2={at} stroke={vars.divider} />
            <text x={left - 6} y={at + 3.5} textAnchor="end" {...tick}>
              {figures(t, 5)}
            </text>
          </g>
        );
      })}
      {ticks(x.shown(x.extent[0]), x.shown(x.extent[1]), 6).map((t) => {
        const at = px(x.stored(t));
        return (
          <g key={`x${String(t)}`}>
            <line x1={at} x2={at} y1={height - bottom} y2={height - bottom + 4} stroke={vars.text.secondary} />
            <text x={at} y={height - bottom + 15} textAnchor="middle" {...tick}>
              {figures(t, 5)}
            </text>
          </g>
        );
      })}
      {x.target !== null && (
        <line
          x1={px(x.target)}
          x2={px(x.target)}
          y1={top}
          y2={height - bottom}
          stroke={vars.text.primary}
          strokeDasharray="2 4"
          strokeWidth={1.25}
        />
      )}
      {y.target !== null && (
        <line
          x1={left}
          x2={width - right}
          y1={py(y.target)}
          y2={py(y.target)}
          stroke={vars.text.primary}
          strokeDasharray="2 4"
          strokeWidth={1.25}
        />
      )}
      {drawn && (
        <rect
          x={Math.min(...drawn.x)}
          y={Math.min(...drawn.y)}
          width={Math.max(...drawn.x) - Math.min(...drawn.x)}
          height={Math.max(...drawn.y) - Math.min(...drawn.y)}
          fill={vars.sheet.flow}
          opacity={0.7}
          stroke={vars.text.secondary}
        />
      )}
      {points.map((p) => {
        const color = p.marked ? vars.error.main : vars.sheet.bar;
        const look = {
          fill: p.hollow ? vars.background.default : color,
          stroke: color,
          strokeWidth: 1.4,
          opacity: p.faded ? 0.25 : 1,
        };
        const r = p.label !== undefined ? 6 : p.marked ? 5.5 : 3.6;
        const [cx, cy] = [px(p.x), py(p.y)];
        return (
          <g
            key={p.key}
            data-point={p.key}
            role="button"
            aria-label={p.name}
            tabIndex={p.key === reached ? 0 : -1}
            style={{ cursor: 'pointer', outlineOffset: 3 }}
            onClick={p.onPick}
            onKeyDown={(e) => {
              press(e, p);
            }}
            onFocus={() => {
              setStop(p.key);
            }}
          >
            {p.square ? (
              <rect x={cx - r * 0.9} y={cy - r * 0.9} width={r * 1.8} height={r * 1.8} {...look} />
            ) : (
              <circle cx={cx} cy={cy} r={r} {...look} />
            )}
          </g>
        );
      })}
      {points
        .filter((p) => p.label !== undefined)
        .map((p) => (
          // Above every point, however dense they lie.
          <text
            key={p.key}
            x={px(p.x) + 9}
            y={py(p.y) + 4}
            fontSize={11}
            fontWeight={650}
            fill={vars.text.primary}
            pointerEvents="none"
            {...halo(vars.background.default)}
          >
            {p.label}
          </text>
        ))}
    </svg>
  );
}
