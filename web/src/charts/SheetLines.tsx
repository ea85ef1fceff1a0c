import { LineChart } from '@mui/x-charts/LineChart';
import { useDrawingArea, useXScale, useYScale } from '@mui/x-charts/hooks';
import { type ReactNode, useId } from 'react';
import { mono } from '../theme';
import { figures } from '../units/units';

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
  /** Shown in the tooltip only when false. */
  labelled?: boolean;
  /** What the tooltip says of each point, where that is not its value. */
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

function Labels({ lines, x, yMax }: { lines: Line[]; x: number[]; yMax: number | undefined }) {
  const xScale = useXScale<'linear'>();
  const yScale = useYScale<'linear'>();
  const area = useDrawingArea();
  const taken: number[] = [];
  return (
    <g aria-hidden>
      {lines
        .filter((l) => l.labelled !== false)
        .map((l) => {
          const drawn = l.data.findLastIndex((v) => v !== null && (yMax === undefined || v <= yMax));
          const at = l.labelAt ?? drawn;
          const value = l.data[at];
          const place = x[at];
          if (value == null || place === undefined) return null;
          const px = xScale(place);
          let py = yScale(value);
          // Labels at the right edge must not lie on each other.
          if (l.labelAt === undefined) {
            while (taken.some((t) => Math.abs(t - py) < 11)) py -= 3;
            taken.push(py);
          }
          const right = px > area.left + area.width - 6;
          return (
            <text
              key={l.id}
              x={px + (right ? 5 : 4)}
              y={py + (right ? 4 : -5)}
              fontSize={11}
              fill={l.color}
              fontWeight={600}
            >
              {l.label}
            </text>
          );
        })}
    </g>
  );
}

/** A hairline at one place of the horizontal axis. */
function Mark({ at, word }: { at: number; word: string }) {
  const xScale = useXScale<'linear'>();
  const area = useDrawingArea();
  const x = xScale(at);
  // Words that would leave the drawing stand before the line.
  const late = x > area.left + 0.7 * area.width;
  return (
    <g aria-hidden opacity={0.7}>
      <line x1={x} x2={x} y1={area.top} y2={area.top + area.height} stroke="currentColor" strokeDasharray="2 3" />
      <text
        x={late ? x - 4 : x + 4}
        y={area.top + area.height - 4}
        textAnchor={late ? 'end' : 'start'}
        fontSize={11}
        fill="currentColor"
      >
        {word}
      </text>
    </g>
  );
}

const axis = { fontSize: 11, opacity: 0.75 } as const;

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

/** Lines over a common x, with hairline axes and each line named where it lies. */
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
  const byId = new Map(lines.map((l) => [l.id, l]));
  const tick = { fontFamily: mono, fontSize: 11 };
  return (
    <figure aria-labelledby={id} style={{ margin: 0 }}>
      <figcaption id={id}>{title}</figcaption>
      <p className="unseen">{summary}</p>
      <div style={axis}>
        {yWord}, {yUnit}
      </div>
      <LineChart
        height={height}
        margin={{ left: 0, right: 44, top: 14, bottom: 0 }}
        hideLegend
        skipAnimation
        grid={{ horizontal: true }}
        xAxis={[
          {
            data: x,
            min: xMin,
            max: x.at(-1) ?? 1,
            tickLabelStyle: tick,
            height: 26,
            disableLine: true,
            valueFormatter: (v: number) => figures(v),
            label: undefined,
          },
        ]}
        yAxis={[
          {
            min: yMin,
            max: yMax,
            tickLabelStyle: tick,
            width: 44,
            disableLine: true,
            disableTicks: true,
            valueFormatter: (v: number) => figures(v, 4),
          },
        ]}
        series={lines.map((l) => ({
          id: l.id,
          label: l.label,
          data: l.data,
          color: l.color,
          showMark: l.marks ?? false,
          ...(l.marks ? { shape: 'circle' as const } : {}),
          curve: 'linear' as const,
          valueFormatter: (v: number | null, { dataIndex }: { dataIndex: number }) =>
            l.told?.[dataIndex] ?? (v === null ? '–' : `${figures(v)} ${yUnit}`),
        }))}
        slotProps={{
          line: (owner) => {
            const line = byId.get(String(owner.seriesId));
            return {
              strokeWidth: line?.marks ? 0 : (line?.width ?? 1.75),
              ...(line?.dashed ? { strokeDasharray: '5 4' } : {}),
            };
          },
          tooltip: { trigger: 'axis' },
        }}
      >
        <Labels lines={lines} x={x} yMax={yMax} />
        {mark && <Mark {...mark} />}
      </LineChart>
      <div style={{ ...axis, textAlign: 'center', paddingLeft: 44, paddingRight: 44 }}>
        {quantities[xUnit] ?? ''}, {xUnit}
      </div>
    </figure>
  );
}
