import { useTheme } from '@mui/material/styles';
import type { PlatePicture } from '../../api/types';
import { mono } from '../../theme';

/** Letters beside the holes, of the drawing's width. */
const SMALL = 0.035;

/** The adapter plate to scale, seen from the motor; the gearbox's holes are told by name. */
export function PlateDrawing({ picture }: { picture: PlatePicture }) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const [left = 0, top = 0, wide = 1, high = 1] = picture.box_mm;
  const edge = 0.06 * Math.max(wide, high);
  const letters = SMALL * Math.max(wide, high);
  const line = Math.max(wide, high) / 300;
  const view = [left - edge, top - edge, wide + 2 * edge, high + 2 * edge];
  // Words stand towards the middle, where there is plate.
  const beside = (x: number, y: number, away: number) => {
    const side = x < -0.1 * wide ? 1 : x > 0.1 * wide ? -1 : 0;
    if (side === 0) return { x, y: y + away + 0.8 * letters, textAnchor: 'middle' as const };
    return { x: x + side * away, y: y + 0.35 * letters, textAnchor: side > 0 ? ('start' as const) : ('end' as const) };
  };
  return (
    <svg
      viewBox={view.map((n) => n.toFixed(1)).join(' ')}
      role="img"
      aria-label={`Adapter plate with ${String(picture.holes_mm.length)} holes, seen from the motor`}
      style={{ display: 'block', width: '100%', maxHeight: 320 }}
    >
      <path d={picture.outline} fill={vars.action.hover} stroke={vars.text.primary} strokeWidth={1.6 * line} />
      {picture.holes_mm.map(([x = 0, y = 0, diameter = 1], i) => {
        const name = picture.names[i] ?? '';
        const gearbox = name.startsWith('gearbox ');
        return (
          <g key={String(i)}>
            <circle
              cx={x}
              cy={y}
              r={diameter / 2}
              fill={vars.background.paper}
              stroke={gearbox ? vars.sheet.signal : vars.text.primary}
              strokeWidth={line}
            />
            <path
              d={`M ${String(x - diameter / 4)} ${String(y)} h ${String(diameter / 2)} M ${String(x)} ${String(y - diameter / 4)} v ${String(diameter / 2)}`}
              stroke={vars.text.secondary}
              strokeWidth={0.6 * line}
            />
            {gearbox && (
              <text
                {...beside(x, y, diameter / 2 + 0.4 * letters)}
                fontSize={letters}
                fontFamily={mono}
                fill={vars.text.primary}
              >
                {name.slice('gearbox '.length)}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
