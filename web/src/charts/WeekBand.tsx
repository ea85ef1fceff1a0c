import { useTheme } from '@mui/material/styles';
import type { WeekRun } from '../api/types';
import { weekdays } from '../units/week';
import { mono } from '../theme';

const hours = 168;
const left = 64;
const width = 1000;
const row = 104;
const gap = 26;
const top = 20;

/** Shape of a week in two seasons, for the room it is kept before it has come. */
export const WEEK_BAND_SHAPE = `${String(width)} / ${String(top + 2 * (row + gap))}`;

/**
 * State of charge through a week, a row a season: it falls on trips and rises at sockets. The bottom of the window is dashed; the first trip
 * that cannot be made is pointed out.
 */
export function WeekBand({
  runs,
  summary,
  word,
}: {
  runs: WeekRun[];
  summary: string;
  word: (run: WeekRun) => string;
}) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const x = (h: number) => left + (Math.min(Math.max(h, 0), hours) / hours) * (width - left - 8);
  const height = top + runs.length * (row + gap);
  const quiet = { fontSize: 11, fill: vars.text.secondary };
  return (
    <svg
      viewBox={`0 0 ${String(width)} ${String(height)}`}
      role="img"
      aria-label={summary}
      data-testid="week-band"
      style={{ display: 'block', width: '100%', minWidth: 680 }}
    >
      {weekdays.map((d, i) => (
        <g key={d.id}>
          <line x1={x(24 * i)} x2={x(24 * i)} y1={top - 6} y2={height - gap + 2} stroke={vars.divider} />
          <text x={x(24 * i) + 5} y={top - 8} {...quiet}>
            {d.word}
          </text>
        </g>
      ))}
      {runs.map((run, i) => {
        const y0 = top + i * (row + gap);
        const y = (soc: number) => y0 + (1 - soc) * row;
        const line = run.line.map((p) => `${x(p.hour_h).toFixed(1)},${y(p.soc).toFixed(1)}`).join(' ');
        const short = run.shortfall;
        const failed = short ? run.blocks.findLast((b) => b.kind === 'drive') : undefined;
        return (
          <g key={run.season}>
            {run.blocks.map((b) => {
              const drives = b.kind === 'drive';
              return (
                <rect
                  key={`${b.kind}${String(b.from_h)}`}
                  x={x(b.from_h)}
                  width={Math.max(x(b.to_h) - x(b.from_h), drives ? 2 : 0)}
                  y={drives ? y0 + row - 7 : y0}
                  height={drives ? 7 : row}
                  fill={drives ? (b === failed ? vars.sheet.signal : vars.sheet.strong) : vars.sheet.flow}
                />
              );
            })}
            <line x1={left} x2={width - 8} y1={y0 + row} y2={y0 + row} stroke={vars.sheet.strong} strokeWidth={0.8} />
            <line
              x1={left}
              x2={width - 8}
              y1={y(run.soc_min)}
              y2={y(run.soc_min)}
              stroke={vars.text.secondary}
              strokeDasharray="3 4"
              strokeWidth={0.9}
            />
            {[0, 0.5, 1].map((soc) => (
              <text key={soc} x={left - 6} y={y(soc) + 4} textAnchor="end" fontFamily={mono} {...quiet}>
                {`${String(soc * 100)} %`}
              </text>
            ))}
            <text x={0} y={y0 + 28} fontSize={12} fontWeight={650} fill={vars.text.primary}>
              {run.season}
            </text>
            <polyline
              points={line}
              fill="none"
              stroke={i === 0 ? vars.sheet.good : vars.sheet.bar}
              strokeWidth={2}
              strokeLinejoin="round"
            />
            {failed && (
              <g>
                <line
                  x1={x(failed.from_h)}
                  x2={x(failed.from_h)}
                  y1={y0}
                  y2={y0 + row}
                  stroke={vars.sheet.signal}
                  strokeWidth={1.5}
                />
                <text
                  x={x(failed.from_h) + (failed.from_h > 110 ? -6 : 6)}
                  y={y0 + 13}
                  textAnchor={failed.from_h > 110 ? 'end' : 'start'}
                  fontSize={12.5}
                  fontWeight={650}
                  fill={vars.sheet.signal}
                >
                  {word(run)}
                </text>
              </g>
            )}
          </g>
        );
      })}
    </svg>
  );
}
