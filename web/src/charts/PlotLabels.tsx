import { useTheme } from '@mui/material/styles';
import { halo } from './halo';
import type { Line } from './SheetLines';

/** How values come to places in the drawing, and what of it is drawn on, px. */
export interface Plot {
  px: (x: number) => number;
  py: (y: number) => number;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The name of each line where it lies. */
export function PlotLabels({ lines, x, yMax, plot }: { lines: Line[]; x: number[]; yMax: number; plot: Plot }) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const taken: number[] = [];
  return lines
    .filter((l) => l.labelled !== false)
    .map((l) => {
      const drawn = l.data.findLastIndex((v) => v !== null && v <= yMax);
      const at = l.labelAt ?? drawn;
      const value = l.data[at];
      const place = x[at];
      if (value == null || place === undefined) return null;
      let py = plot.py(value);
      // Labels at the right edge must not lie on each other.
      if (l.labelAt === undefined) {
        while (taken.some((t) => Math.abs(t - py) < 11)) py -= 3;
        taken.push(py);
      }
      const px = plot.px(place);
      const right = px > plot.right - 6;
      return (
        <text
          key={l.id}
          x={px + (right ? 5 : 4)}
          y={py + (right ? 4 : -5)}
          fontSize={11}
          fill={l.color}
          fontWeight={600}
          {...halo(vars.background.default)}
        >
          {l.label}
        </text>
      );
    });
}

/** A hairline at one place of the horizontal axis. */
export function PlotMark({ at, word, plot }: { at: number; word: string; plot: Plot }) {
  const x = plot.px(at);
  // Words that would leave the drawing stand before the line.
  const late = x > plot.left + 0.7 * (plot.right - plot.left);
  return (
    <g opacity={0.7}>
      <line x1={x} x2={x} y1={plot.top} y2={plot.bottom} stroke="currentColor" strokeDasharray="2 3" />
      <text
        x={late ? x - 4 : x + 4}
        y={plot.bottom - 4}
        textAnchor={late ? 'end' : 'start'}
        fontSize={11}
        fill="currentColor"
      >
        {word}
      </text>
    </g>
  );
}
