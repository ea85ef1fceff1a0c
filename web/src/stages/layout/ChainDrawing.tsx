import { useTheme } from '@mui/material/styles';
import type { ChainPicture } from '../../api/types';
import { mono } from '../../theme';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

const wide = 400;
const edge = 22;
/** Radius on the drawing within which a number and an arrow have no room. */
const roomy = 30;

/** Sprockets and chain, or pulleys and belt, to scale, seen from the left; the arrows turn as they do when the vehicle goes forward. */
export function ChainDrawing({ picture }: { picture: ChainPicture }) {
  const theme = useTheme();
  const system = useUnits();
  const vars = theme.vars?.palette ?? theme.palette;
  const { diameters_mm, teeth, centre_mm, pitch_mm, links, belt } = picture;
  const [wheels, parts] = belt ? (['Pulleys', 'teeth of the belt'] as const) : (['Sprockets', 'links'] as const);
  const [r1 = 1, r2 = 1] = diameters_mm.map((d) => d / 2);
  const [front = 0, rear = 0] = teeth;
  // A roller stands over the pitch circle by about a third of the pitch.
  const over = pitch_mm / 3;
  const scale = (wide - 2 * edge) / (centre_mm + r1 + r2 + 2 * over);
  const tall = 2 * (Math.max(r1, r2) + over) * scale + 2 * edge;
  const y = tall / 2;
  const x1 = edge + (r1 + over) * scale;
  const x2 = x1 + centre_mm * scale;
  // The straight runs touch both pitch circles.
  const lean = Math.asin(Math.max(-1, Math.min(1, (r2 - r1) / centre_mm)));
  const touch = (x: number, r: number, side: 1 | -1) =>
    [x - r * scale * Math.sin(lean), y + side * r * scale * Math.cos(lean)] as const;
  const arrow = (x: number, r: number) => {
    // Within the sprocket where there is room, around it where there is none.
    const a = r * scale < roomy ? (r + over) * scale + 9 : 0.55 * r * scale;
    // Over the top to the left: against the clock.
    return `M ${String(x + 0.7 * a)} ${String(y - 0.7 * a)} A ${String(a)} ${String(a)} 0 0 0 ${String(x - 0.7 * a)} ${String(y - 0.7 * a)}`;
  };
  const tooth = (x: number, r: number, n: number) => {
    const [inner, outer] = [(r - over) * scale, (r + over / 2) * scale];
    return Array.from({ length: n }, (_, i) => {
      const t = (2 * Math.PI * (i + 0.5)) / n;
      const [c, s] = [Math.cos(t), Math.sin(t)];
      return `M ${(x + inner * c).toFixed(1)} ${(y + inner * s).toFixed(1)} L ${(x + outer * c).toFixed(1)} ${(y + outer * s).toFixed(1)}`;
    }).join(' ');
  };
  const words = { fontFamily: mono, fontSize: 12, fill: vars.text.primary, textAnchor: 'middle' as const };
  return (
    <svg
      viewBox={`0 0 ${String(wide)} ${String(tall + 20)}`}
      role="img"
      aria-label={`${wheels} of ${String(front)} and ${String(rear)} teeth, ${String(links)} ${parts}`}
      style={{ display: 'block', width: '100%', maxHeight: 260 }}
    >
      <defs>
        <marker id="turns" viewBox="0 0 8 8" refX="6" refY="4" markerWidth="7" markerHeight="7" orient="auto">
          <path d="M 0 0 L 8 4 L 0 8 z" fill={vars.sheet.signal} />
        </marker>
      </defs>
      {[
        { x: x1, r: r1, n: front },
        { x: x2, r: r2, n: rear },
      ].map(({ x, r, n }) => (
        <g key={x}>
          <circle cx={x} cy={y} r={r * scale} fill="none" stroke={vars.divider} strokeDasharray="6 3 1 3" />
          <path d={tooth(x, r, n)} stroke={vars.sheet.strong} strokeWidth={Math.max(1, pitch_mm * scale * 0.3)} />
          <circle cx={x} cy={y} r={2.5} fill={vars.sheet.strong} />
          <path d={arrow(x, r)} fill="none" stroke={vars.sheet.signal} strokeWidth={1.8} markerEnd="url(#turns)" />
          <text x={x} y={r * scale < roomy ? y + (r + over) * scale + 16 : y + 18} {...words}>
            {n}
          </text>
        </g>
      ))}
      {([1, -1] as const).map((side) => {
        const [a, b] = [touch(x1, r1, side), touch(x2, r2, side)];
        return (
          <line
            key={side}
            x1={a[0]}
            y1={a[1]}
            x2={b[0]}
            y2={b[1]}
            stroke={vars.text.primary}
            strokeWidth={Math.max(2, pitch_mm * scale * 0.45)}
            strokeDasharray={
              belt ? undefined : `${(pitch_mm * scale * 0.8).toFixed(1)} ${(pitch_mm * scale * 0.2).toFixed(1)}`
            }
          />
        );
      })}
      <text x={wide / 2} y={tall + 14} {...words} fill={vars.text.secondary}>
        {links} {parts} · {showText(centre_mm, 'mm', system, 4, 'machined')} · from the left, going forward
      </text>
    </svg>
  );
}
