import { useTheme } from '@mui/material/styles';
import type { BoltPattern, LayoutSheet, LoadLimit } from '../../api/types';
import { halo } from '../../charts/halo';
import { mono } from '../../theme';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import type { Frame } from './frame';
import type { View } from './useHeld';

/** What an axle carries, as an arrow under its wheel. */
export function Axle({
  name,
  at,
  kg,
  limit,
  frame,
}: {
  name: 'front' | 'rear';
  at: number;
  kg: number;
  limit: LoadLimit | undefined;
  frame: Frame;
}) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const system = useUnits();
  const color = kg < 0 || (limit && limit.laden_kg > limit.limit_kg) ? vars.sheet.signal : vars.text.primary;
  const [x, ground] = [frame.x(at), frame.ground];
  return (
    <g>
      <line x1={x} x2={x} y1={ground + 30} y2={ground + 4} stroke={color} strokeWidth={1.6} />
      <path d={`M ${String(x)} ${String(ground + 3)} l -4 9 h 8 z`} fill={color} />
      <text
        x={x + 9}
        y={ground + 26}
        fontFamily={mono}
        fontSize={14}
        fontWeight={650}
        fill={color}
        data-testid={`load-${name}_axle`}
      >
        {showText(kg, 'kg', system, 3)}
        <tspan fontWeight={400} fontSize={12} fill={vars.text.secondary}>
          {limit ? ` of ${showText(limit.limit_kg, 'kg', system, 3)}` : ` ${name}`}
        </tspan>
      </text>
    </g>
  );
}

const letters: Record<string, string> = { donor: 'D', stripped: 'S', converted: 'C', laden: 'L' };

/** The way of the centre of gravity from donor to laden. */
export function Gravity({ view, sheet, frame }: { view: View; sheet: LayoutSheet; frame: Frame }) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const states = sheet.states.filter((s) => letters[s.id] !== undefined);
  const at = (s: (typeof states)[number]) =>
    [frame.x(s.along_m), view === 'side' ? frame.z(s.up_m) : frame.y(s.right_m)] as const;
  return (
    <g pointerEvents="none">
      <polyline
        points={states.map((s) => at(s).join(',')).join(' ')}
        fill="none"
        stroke={vars.sheet.signal}
        strokeWidth={1.4}
      />
      {states.map((s, i) => {
        const [x, y] = at(s);
        const last = s.id === 'laden';
        return (
          <g key={s.id}>
            <circle
              cx={x}
              cy={y}
              r={last ? 6 : 4}
              fill={last ? vars.sheet.signal : vars.background.default}
              stroke={vars.sheet.signal}
              strokeWidth={1.6}
            />
            <text
              x={x}
              y={y + (i % 2 === 0 ? -10 : 19)}
              textAnchor="middle"
              fontSize={12}
              fontWeight={700}
              fill={vars.sheet.signal}
              {...halo(vars.background.default)}
            >
              {letters[s.id]}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** Room for the pack, by its edges. */
export function Bays({ view, sheet, frame }: { view: View; sheet: LayoutSheet; frame: Frame }) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  return sheet.bays.map((bay) => {
    const [length, width, height] = bay.size_m ?? [];
    if (length === undefined || width === undefined || height === undefined) return null;
    const across = view === 'side' ? height : width;
    const [x, y] = [
      frame.x(bay.along_m - length / 2),
      view === 'side' ? frame.z(bay.up_m + height / 2) : frame.y(bay.right_m + width / 2),
    ];
    return (
      <rect
        key={bay.path}
        x={x}
        y={y}
        width={length * frame.perMetre}
        height={across * frame.perMetre}
        fill={vars.secondary.main}
        fillOpacity={0.05}
        stroke={vars.secondary.main}
        strokeDasharray="7 5"
        strokeWidth={1.4}
        pointerEvents="none"
      />
    );
  });
}

/** Bolt holes the vehicle has, as crosses. */
export function Holes({ view, patterns, frame }: { view: View; patterns: BoltPattern[]; frame: Frame }) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  return patterns.map((pattern, i) => (
    <g key={String(i)} stroke={vars.text.primary} strokeWidth={1.4} pointerEvents="none">
      {(pattern.points ?? []).map((p, j) => {
        const x = frame.x(p.behind_m);
        const y = view === 'side' ? frame.z(p.up_m ?? 0) : frame.y(p.right_m ?? 0);
        return <path key={String(j)} d={`M ${String(x - 4)} ${String(y)} h 8 m -4 -4 v 8`} />;
      })}
    </g>
  ));
}
