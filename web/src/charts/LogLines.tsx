import { useTheme } from '@mui/material/styles';
import { type ReactNode, useId } from 'react';
import { mono } from '../theme';
import { figures } from '../units/units';

const width = 560;
const height = 270;
const left = 50;
const right = 64;
const top = 10;
const bottom = 40;

interface LogLine {
  id: string;
  label: string;
  y: number[];
  color: string;
  dashed?: boolean;
}

/** Powers of ten within two values. */
const decades = (low: number, high: number) => {
  const first = Math.ceil(Math.log10(low) - 1e-9);
  const last = Math.floor(Math.log10(high) + 1e-9);
  return Array.from({ length: Math.max(last - first + 1, 0) }, (_, i) => 10 ** (first + i));
};

/** Lines over two logarithmic axes, each named where it ends; values above the frame leave it. */
export function LogLines({
  title,
  summary,
  x,
  xWord,
  yWord,
  yMax,
  lines,
  mark,
}: {
  title: ReactNode;
  /** Says what the drawing shows to those who cannot see it. */
  summary: string;
  x: number[];
  xWord: string;
  yWord: string;
  yMax: number;
  lines: LogLine[];
  /** A level that is pointed out. */
  mark?: { at: number; word: string };
}) {
  const theme = useTheme();
  const id = useId();
  const vars = theme.vars?.palette ?? theme.palette;
  const [x0, x1] = [x[0] ?? 1, x.at(-1) ?? 10];
  const least = Math.min(...lines.flatMap((l) => l.y).filter((v) => v > 0));
  const [y0, y1] = [10 ** Math.floor(Math.log10(least)), yMax];
  const px = (v: number) => left + (Math.log(v / x0) / Math.log(x1 / x0)) * (width - left - right);
  const py = (v: number) =>
    height - bottom - (Math.log(Math.max(v, y0) / y0) / Math.log(y1 / y0)) * (height - top - bottom);
  const quiet = { fontSize: 10.5, fontFamily: mono, fill: vars.text.secondary };
  const ends: number[] = [];
  return (
    <figure aria-labelledby={id} style={{ margin: 0 }}>
      <figcaption id={id}>{title}</figcaption>
      <p className="unseen">{summary}</p>
      <svg
        viewBox={`0 0 ${String(width)} ${String(height)}`}
        width="100%"
        aria-hidden
        style={{ display: 'block', minWidth: 320 }}
      >
        <clipPath id={`${id}-frame`}>
          <rect x={left} y={top} width={width - left - right} height={height - top - bottom} />
        </clipPath>
        {decades(y0, y1).map((v) => (
          <g key={`y${String(v)}`}>
            <line x1={left} x2={width - right} y1={py(v)} y2={py(v)} stroke={vars.divider} />
            <text x={left - 6} y={py(v) + 4} textAnchor="end" {...quiet}>
              {figures(v, 5)}
            </text>
          </g>
        ))}
        {decades(x0, x1).map((v) => (
          <g key={`x${String(v)}`}>
            <line x1={px(v)} x2={px(v)} y1={top} y2={height - bottom} stroke={vars.divider} />
            <text x={px(v)} y={height - bottom + 14} textAnchor="middle" {...quiet}>
              {figures(v, 5)}
            </text>
          </g>
        ))}
        <text
          x={(left + width - right) / 2}
          y={height - 6}
          textAnchor="middle"
          fontSize={11}
          fill={vars.text.secondary}
        >
          {xWord}
        </text>
        <text x={left} y={top + 10} dx={4} fontSize={11} fill={vars.text.secondary}>
          {yWord}
        </text>
        {mark && (
          <g>
            <line
              x1={left}
              x2={width - right}
              y1={py(mark.at)}
              y2={py(mark.at)}
              stroke={vars.text.secondary}
              strokeDasharray="2 4"
            />
            <text x={width - right - 4} y={py(mark.at) - 4} textAnchor="end" fontSize={11} fill={vars.text.secondary}>
              {mark.word}
            </text>
          </g>
        )}
        <g clipPath={`url(#${id}-frame)`}>
          {lines.map((l) => (
            <polyline
              key={l.id}
              points={x.map((v, i) => `${px(v).toFixed(1)},${py(l.y[i] ?? y0).toFixed(1)}`).join(' ')}
              fill="none"
              stroke={l.color}
              strokeWidth={2}
              {...(l.dashed ? { strokeDasharray: '6 4' } : {})}
            />
          ))}
        </g>
        {lines.map((l) => {
          let at = py(l.y.at(-1) ?? y0);
          while (ends.some((e) => Math.abs(e - at) < 12)) at -= 4;
          ends.push(at);
          return (
            <text key={l.id} x={width - right + 5} y={at + 4} fontSize={11.5} fontWeight={650} fill={l.color}>
              {l.label}
            </text>
          );
        })}
      </svg>
    </figure>
  );
}
