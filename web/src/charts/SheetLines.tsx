import { Box, Paper } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { leastIndex, max, nice, ticks } from 'd3-array';
import { line as path } from 'd3-shape';
import { type PointerEvent, type ReactNode, useId, useState } from 'react';
import { mono } from '../theme';
import { figures } from '../units/units';
import { type Plot, PlotLabels, PlotMark } from './PlotLabels';
import { useWidth } from './useWidth';

export interface Line {
  id: string;
  label: string;
  data: (number | null)[];
  color: string;
  dashed?: boolean;
  width?: number;
  /** Index of the point the label stands at; the last point that is drawn when absent. */
  labelAt?: number;
  /** Points instead of a line. */
  marks?: boolean;
  /** Told beside the pointer only when false. */
  labelled?: boolean;
  /** What is told of each point beside the pointer, where that is not its value. */
  told?: string[];
}

interface Props {
  title: ReactNode;
  /** Says what the drawing shows to those who cannot see it. */
  summary: string;
  x: number[];
  xUnit: string;
  /** Quantity of the vertical axis. */
  yWord: string;
  yUnit: string;
  xMin?: number;
  yMin?: number;
  yMax?: number;
  /** A place on the horizontal axis that is pointed out. */
  mark?: { at: number; word: string };
  lines: Line[];
  height: number;
}

const axis = { fontSize: 11, opacity: 0.75 } as const;
const left = 44;
const besideRight = 44;
const top = 14;
const below = 26;
/** Radius of a point, px. */
const POINT = 3;

/** What is counted along the horizontal axis, by its unit. */
const quantities: Record<string, string> = {
  'km/h': 'Speed',
  mph: 'Speed',
  'm/s': 'Speed',
  s: 'Time',
  min: 'Time',
  h: 'Time',
  km: 'Distance',
  mi: 'Distance',
  presses: 'After',
  ': 1': 'Overall ratio in first gear',
};

/** Lines over a common x, with hairline axes and each line named where it lies; what lies under the pointer is told beside it. */
export function SheetLines({
  title,
  summary,
  x,
  xUnit,
  xMin = 0,
  yWord,
  yUnit,
  yMin = 0,
  yMax,
  mark,
  lines,
  height,
}: Props) {
  const id = useId();
  const vars = useTheme().vars?.palette;
  const [frame, width] = useWidth<HTMLDivElement>(560);
  const [under, setUnder] = useState<number | null>(null);

  const highest = yMax ?? max(lines, (l) => max(l.data, (v) => v ?? undefined)) ?? 1;
  // A line that is level at the bottom still has a height above it.
  const [low, high] = yMax === undefined ? nice(yMin, highest > yMin ? highest : yMin + 1, 5) : [yMin, yMax];
  const xLast = x.at(-1) ?? 1;
  const xSpan = xLast > xMin ? xLast - xMin : 1;
  const plot: Plot = {
    left,
    right: Math.max(width - besideRight, left + 1),
    top,
    bottom: height - below,
    px: (v) => left + ((v - xMin) / xSpan) * (Math.max(width - besideRight, left + 1) - left),
    py: (v) => height - below - ((v - low) / (high - low)) * (height - below - top),
  };
  const tick = { fontFamily: mono, fontSize: 11, fill: vars?.text.primary };
  const drawn = (l: Line) =>
    path<number | null>()
      .defined((v) => v !== null)
      .x((_, i) => plot.px(x[i] ?? 0))
      .y((v) => plot.py(v ?? 0))(l.data) ?? '';
  const point = (e: PointerEvent<SVGSVGElement>) => {
    const at = e.clientX - e.currentTarget.getBoundingClientRect().left;
    const nearest = leastIndex(x, (a, b) => Math.abs(plot.px(a) - at) - Math.abs(plot.px(b) - at));
    setUnder(nearest === undefined || nearest < 0 ? null : nearest);
  };
  const at = under === null ? undefined : x[under];
  return (
    <figure aria-labelledby={id} style={{ margin: 0 }}>
      <figcaption id={id}>{title}</figcaption>
      <p className="unseen">{summary}</p>
      <div style={axis}>
        {yWord}, {yUnit}
      </div>
      <Box ref={frame} sx={{ position: 'relative' }}>
        <svg
          width={width}
          height={height}
          // On paper the page is narrower than the screen it was measured on: drawn smaller, not cut off.
          viewBox={`0 0 ${String(width)} ${String(height)}`}
          aria-hidden
          style={{ display: 'block', maxWidth: '100%', touchAction: 'pan-y' }}
          onPointerMove={point}
          onPointerDown={point}
          onPointerLeave={() => {
            setUnder(null);
          }}
        >
          <clipPath id={`${id}-frame`}>
            <rect x={plot.left} y={0} width={plot.right - plot.left + 1} height={plot.bottom + 1} />
          </clipPath>
          {/* A point on the frame is drawn whole. */}
          <clipPath id={`${id}-points`}>
            <rect x={plot.left - POINT} y={0} width={plot.right - plot.left + 2 * POINT} height={plot.bottom + POINT} />
          </clipPath>
          {ticks(low, high, Math.max(2, Math.round(height / 55))).map((v) => (
            <g key={`y${String(v)}`}>
              <line x1={plot.left} x2={plot.right} y1={plot.py(v)} y2={plot.py(v)} stroke={vars?.divider} />
              <text x={plot.left - 8} y={plot.py(v) + 4} textAnchor="end" {...tick}>
                {figures(v, 4)}
              </text>
            </g>
          ))}
          {ticks(xMin, xLast, Math.max(2, Math.round(width / 90))).map((v) => (
            <g key={`x${String(v)}`}>
              <line
                x1={plot.px(v)}
                x2={plot.px(v)}
                y1={plot.bottom}
                y2={plot.bottom + 5}
                stroke={vars?.text.secondary}
              />
              <text x={plot.px(v)} y={plot.bottom + 18} textAnchor="middle" {...tick}>
                {figures(v)}
              </text>
            </g>
          ))}
          <g clipPath={`url(#${id}-frame)`} fill="none">
            {lines
              .filter((l) => !l.marks)
              .map((l) => (
                <path
                  key={l.id}
                  d={drawn(l)}
                  stroke={l.color}
                  strokeWidth={l.width ?? 1.75}
                  strokeLinejoin="round"
                  {...(l.dashed ? { strokeDasharray: '5 4' } : {})}
                />
              ))}
          </g>
          <g clipPath={`url(#${id}-points)`}>
            {lines
              .filter((l) => l.marks)
              .map((l) =>
                l.data.map((v, i) =>
                  v === null ? null : (
                    <circle
                      key={`${l.id}${String(i)}`}
                      cx={plot.px(x[i] ?? 0)}
                      cy={plot.py(v)}
                      r={POINT}
                      fill={l.color}
                    />
                  ),
                ),
              )}
          </g>
          <PlotLabels lines={lines} x={x} yMax={high} plot={plot} />
          {mark && <PlotMark {...mark} plot={plot} />}
          {at !== undefined && (
            <line
              x1={plot.px(at)}
              x2={plot.px(at)}
              y1={plot.top}
              y2={plot.bottom}
              stroke={vars?.text.primary}
              opacity={0.6}
            />
          )}
        </svg>
        {at !== undefined && under !== null && (
          <Paper
            elevation={3}
            sx={{
              position: 'absolute',
              top: plot.top,
              ...(plot.px(at) > width / 2 ? { right: width - plot.px(at) + 10 } : { left: plot.px(at) + 10 }),
              px: 1,
              py: 0.5,
              fontSize: 12,
              pointerEvents: 'none',
              zIndex: 1,
              whiteSpace: 'nowrap',
            }}
          >
            <div style={{ fontFamily: mono }}>
              {figures(at)} {xUnit}
            </div>
            {lines.map((l) => {
              const value = l.data[under];
              return value == null ? null : (
                <div key={l.id} style={{ display: 'flex', gap: 8, justifyContent: 'space-between' }}>
                  <span>
                    <span style={{ color: l.color, fontWeight: 700 }}>{l.dashed ? '╌' : '―'}</span> {l.label}
                  </span>
                  <span style={{ fontFamily: mono }}>{l.told?.[under] ?? `${figures(value)} ${yUnit}`}</span>
                </div>
              );
            })}
          </Paper>
        )}
      </Box>
      <div style={{ ...axis, textAlign: 'center', paddingLeft: left, paddingRight: besideRight }}>
        {quantities[xUnit] ?? ''}, {xUnit}
      </div>
    </figure>
  );
}
