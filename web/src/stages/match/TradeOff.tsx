import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { type PointerEvent, useId, useRef, useState } from 'react';
import type { AxisInfo, Match } from '../../api/types';
import { Title } from '../../charts/Title';
import { mono } from '../../theme';
import { convert, figures, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { type Axis, valueOf } from './words';

/** Part of the plane that is kept, in stored units. */
export interface Brush {
  x: [number, number];
  y: [number, number];
}

export interface Plane {
  x: Axis;
  y: Axis;
  brush: Brush | null;
}

export const within = (m: Match, plane: Plane) => {
  if (!plane.brush) return true;
  const [x, y] = [valueOf(m, plane.x), valueOf(m, plane.y)];
  const { brush } = plane;
  return x !== null && y !== null && x >= brush.x[0] && x <= brush.x[1] && y >= brush.y[0] && y <= brush.y[1];
};

const width = 520;
const height = 270;
const left = 48;
const right = 12;
const top = 8;
const bottom = 26;

/** Round values across a range. */
function ticks(low: number, high: number): number[] {
  const raw = (high - low) / 5;
  const size = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((k) => k * size).find((k) => k >= raw) ?? raw;
  const first = Math.ceil(low / step) * step;
  return Array.from({ length: 12 }, (_, i) => first + i * step).filter((v) => v <= high + step * 1e-6);
}

/** Designs on two of the figures they are judged by; dragging keeps those inside the frame. */
export function TradeOff({
  designs,
  axes,
  plane,
  onPlane,
  marked,
  onPick,
}: {
  designs: Match[];
  axes: AxisInfo[];
  plane: Plane;
  onPlane: (plane: Plane) => void;
  marked: Set<string>;
  onPick: (m: Match) => void;
}) {
  const system = useUnits();
  const theme = useTheme();
  const id = useId();
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ from: [number, number]; to: [number, number] } | null>(null);
  const vars = theme.vars?.palette ?? theme.palette;
  const active = axes.filter((a) => a.active);
  const info = (axis: Axis) => axes.find((a) => a.axis === axis);
  const shown = designs.filter((m) => valueOf(m, plane.x) !== null && valueOf(m, plane.y) !== null);
  const extent = (axis: Axis): [number, number] => {
    const all = shown.map((m) => valueOf(m, axis) ?? 0);
    const target = info(axis)?.target;
    if (target != null) all.push(target);
    const [low, high] = [Math.min(...all), Math.max(...all)];
    const room = (high - low || Math.abs(high) || 1) * 0.06;
    return [low - room, high + room];
  };
  const [ex, ey] = [extent(plane.x), extent(plane.y)];
  const px = (v: number) => left + ((v - ex[0]) / (ex[1] - ex[0])) * (width - left - right);
  const py = (v: number) => height - bottom - ((v - ey[0]) / (ey[1] - ey[0])) * (height - top - bottom);
  const unit = (axis: Axis) => {
    const u = info(axis)?.unit ?? '';
    return u === 'money' ? '' : shownUnit(u, system);
  };
  const conv = (axis: Axis, v: number) => convert(v, info(axis)?.unit ?? '', unit(axis) || (info(axis)?.unit ?? ''));
  const back = (axis: Axis, v: number) => convert(v, unit(axis) || (info(axis)?.unit ?? ''), info(axis)?.unit ?? '');
  const place = (e: PointerEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [((e.clientX - box.left) / box.width) * width, ((e.clientY - box.top) / box.height) * height];
  };
  const release = () => {
    if (!drag) return;
    setDrag(null);
    const [[x0, y0], [x1, y1]] = [drag.from, drag.to];
    // A click is no frame.
    if (Math.abs(x1 - x0) < 6 || Math.abs(y1 - y0) < 6) return;
    const ux = (p: number) => ex[0] + ((p - left) / (width - left - right)) * (ex[1] - ex[0]);
    const uy = (p: number) => ey[0] + ((height - bottom - p) / (height - top - bottom)) * (ey[1] - ey[0]);
    onPlane({
      ...plane,
      brush: {
        x: [ux(Math.min(x0, x1)), ux(Math.max(x0, x1))],
        y: [uy(Math.max(y0, y1)), uy(Math.min(y0, y1))],
      },
    });
  };
  const choose = (which: 'x' | 'y', label: string) => (
    <TextField
      select
      label={label}
      value={plane[which]}
      onChange={(e) => {
        onPlane({ ...plane, [which]: e.target.value as Axis, brush: null });
      }}
      sx={{ width: 190 }}
      slotProps={{ inputLabel: { shrink: true } }}
    >
      {active.map((a) => (
        <MenuItem key={a.axis} value={a.axis} dense>
          {a.name}
        </MenuItem>
      ))}
    </TextField>
  );
  const frame = drag
    ? {
        x: Math.min(drag.from[0], drag.to[0]),
        y: Math.min(drag.from[1], drag.to[1]),
        w: Math.abs(drag.to[0] - drag.from[0]),
        h: Math.abs(drag.to[1] - drag.from[1]),
      }
    : plane.brush
      ? {
          x: px(plane.brush.x[0]),
          y: py(plane.brush.y[1]),
          w: px(plane.brush.x[1]) - px(plane.brush.x[0]),
          h: py(plane.brush.y[0]) - py(plane.brush.y[1]),
        }
      : null;
  const kept = shown.filter((m) => within(m, plane)).length;
  const limit = (axis: 'x' | 'y', end: 0 | 1, typed: string) => {
    const value = Number(typed.replace(',', '.'));
    if (typed.trim() === '' || !Number.isFinite(value)) return;
    const brush: Brush = plane.brush ?? { x: [...ex], y: [...ey] };
    const range: [number, number] = [...brush[axis]];
    range[end] = back(plane[axis], value);
    onPlane({ ...plane, brush: { ...brush, [axis]: range } });
  };
  return (
    <Box>
      <figure aria-labelledby={id} style={{ margin: 0 }}>
        <figcaption id={id}>
          <Title
            word="Trade-off"
            note="round: alternating current, square: direct; hollow: salvaged cells; drag a frame to keep what is inside"
          />
        </figcaption>
        <svg
          ref={svg}
          viewBox={`0 0 ${String(width)} ${String(height)}`}
          width="100%"
          role="img"
          aria-label={`${String(shown.length)} designs, ${info(plane.y)?.name ?? ''} over ${info(plane.x)?.name ?? ''}; the table lists them`}
          data-testid="trade-off"
          style={{ display: 'block', touchAction: 'none', cursor: 'crosshair', userSelect: 'none' }}
          onPointerDown={(e) => {
            const at = place(e);
            setDrag({ from: at, to: at });
            e.currentTarget.setPointerCapture(e.pointerId);
          }}
          onPointerMove={(e) => {
            if (drag) setDrag({ ...drag, to: place(e) });
          }}
          onPointerUp={release}
        >
          {ticks(conv(plane.y, ey[0]), conv(plane.y, ey[1])).map((t) => (
            <g key={`y${String(t)}`}>
              <line
                x1={left}
                x2={width - right}
                y1={py(back(plane.y, t))}
                y2={py(back(plane.y, t))}
                stroke={vars.divider}
              />
              <text
                x={left - 6}
                y={py(back(plane.y, t)) + 3.5}
                textAnchor="end"
                fontSize={10.5}
                fontFamily={mono}
                fill={vars.text.secondary}
              >
                {figures(t, 5)}
              </text>
            </g>
          ))}
          {ticks(conv(plane.x, ex[0]), conv(plane.x, ex[1])).map((t) => (
            <g key={`x${String(t)}`}>
              <line
                x1={px(back(plane.x, t))}
                x2={px(back(plane.x, t))}
                y1={height - bottom}
                y2={height - bottom + 4}
                stroke={vars.text.secondary}
              />
              <text
                x={px(back(plane.x, t))}
                y={height - bottom + 15}
                textAnchor="middle"
                fontSize={10.5}
                fontFamily={mono}
                fill={vars.text.secondary}
              >
                {figures(t, 5)}
              </text>
            </g>
          ))}
          {(['x', 'y'] as const).map((which) => {
            const target = info(plane[which])?.target;
            if (target == null) return null;
            const line =
              which === 'x'
                ? { x1: px(target), x2: px(target), y1: top, y2: height - bottom }
                : { x1: left, x2: width - right, y1: py(target), y2: py(target) };
            return <line key={which} {...line} stroke={vars.text.primary} strokeDasharray="2 4" strokeWidth={1.25} />;
          })}
          {frame && (
            <rect
              x={frame.x}
              y={frame.y}
              width={frame.w}
              height={frame.h}
              fill={vars.sheet.flow}
              opacity={0.7}
              stroke={vars.text.secondary}
            />
          )}
          {shown.map((m) => {
            const [x, y] = [px(valueOf(m, plane.x) ?? 0), py(valueOf(m, plane.y) ?? 0)];
            const key = keyOf(m);
            const color = marked.has(key) ? vars.error.main : vars.sheet.bar;
            const look = {
              fill: m.salvaged ? vars.background.default : color,
              stroke: color,
              strokeWidth: 1.4,
              opacity: within(m, plane) ? 1 : 0.25,
              style: { cursor: 'pointer' },
              onClick: () => {
                onPick(m);
              },
            };
            const r = m.place === 1 ? 6 : marked.has(key) ? 5.5 : 3.6;
            return (
              <g key={key}>
                {m.direct_current ? (
                  <rect x={x - r * 0.9} y={y - r * 0.9} width={r * 1.8} height={r * 1.8} {...look} />
                ) : (
                  <circle cx={x} cy={y} r={r} {...look} />
                )}
                {m.place === 1 && (
                  <text x={x + 9} y={y + 4} fontSize={11} fontWeight={650} fill={vars.text.primary}>
                    first
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      </figure>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'flex-end', mt: 1, flexWrap: 'wrap' }}>
        {choose('y', 'upwards')}
        {choose('x', 'across')}
        {plane.brush ? (
          <>
            {(['x', 'y'] as const).flatMap((which) =>
              ([0, 1] as const).map((end) => (
                <TextField
                  key={`${which}${String(end)}-${String(plane.brush?.[which][end])}`}
                  label={`${which === 'x' ? 'across' : 'up'} ${end === 0 ? 'from' : 'to'}`}
                  defaultValue={figures(conv(plane[which], plane.brush?.[which][end] ?? 0), 4)
                    .replaceAll(' ', '')
                    .replace('−', '-')}
                  onBlur={(e) => {
                    limit(which, end, e.target.value);
                  }}
                  onKeyDown={(e) => {
                    if (e.key === 'Enter') limit(which, end, (e.target as HTMLInputElement).value);
                  }}
                  sx={{ width: 76 }}
                  slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
                />
              )),
            )}
            <Button
              onClick={() => {
                onPlane({ ...plane, brush: null });
              }}
            >
              all again
            </Button>
          </>
        ) : (
          <Button
            onClick={() => {
              onPlane({ ...plane, brush: { x: [...ex], y: [...ey] } });
            }}
          >
            set bounds
          </Button>
        )}
        <Typography variant="caption" color="text.secondary" role="status">
          {plane.brush
            ? `${String(kept)} of ${String(designs.length)} inside`
            : `${String(designs.length)} designs; dotted: what the brief asks`}
        </Typography>
      </Box>
    </Box>
  );
}

export const keyOf = (m: Match) => JSON.stringify(m.pick);
