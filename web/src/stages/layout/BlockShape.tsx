import { useTheme } from '@mui/material/styles';
import type { SVGProps } from 'react';
import type { BlockView } from '../../api/types';
import { mono } from '../../theme';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import type { Frame } from './frame';
import type { View } from './useHeld';

/** One block in one view, with the number it has in the list. */
export function BlockShape({
  block: b,
  number,
  view,
  frame,
  picked,
  entry,
  hand,
}: {
  block: BlockView;
  number: number;
  view: View;
  frame: Frame;
  picked: boolean;
  /** Whether the tabulator stops here. */
  entry: boolean;
  hand: SVGProps<SVGGElement>;
}) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const system = useUnits();
  const m = (x: number) => showText(x, 'm', system, 3);
  const side = view === 'side';
  const left = frame.x(b.along_m - b.length_m / 2);
  const upper = side ? frame.z(b.up_m + b.height_m / 2) : frame.y(b.right_m + b.width_m / 2);
  const where = side
    ? `${m(b.up_m)} above the ground`
    : `${m(Math.abs(b.right_m))} ${b.right_m < 0 ? 'left' : 'right'} of the middle`;
  const rides = b.kind === 'driver' || b.kind === 'payload';
  const gone = b.kind === 'removed';
  return (
    <g
      {...hand}
      data-block={`${view}:${b.path}`}
      role="button"
      tabIndex={entry ? 0 : -1}
      aria-pressed={picked}
      aria-label={`${String(number)} ${b.name}, ${showText(b.mass_kg, 'kg', system, 3)}, ${m(b.along_m)} behind the front axle, ${where}`}
      style={{ cursor: 'grab', touchAction: 'none', outline: 'none' }}
      className="block"
    >
      <rect
        x={left}
        y={upper}
        width={b.length_m * frame.perMetre}
        height={(side ? b.height_m : b.width_m) * frame.perMetre}
        fill={gone ? 'none' : rides ? vars.action.hover : vars.sheet.flow}
        // What came out is taken by its whole face, too.
        pointerEvents="all"
        fillOpacity={0.82}
        stroke={picked ? vars.sheet.signal : gone ? vars.text.secondary : vars.sheet.strong}
        strokeWidth={picked ? 2.4 : 1.1}
        strokeDasharray={gone ? '5 4' : b.sized_by === 'said' ? undefined : '1.5 2.5'}
      />
      <text
        x={left + 4}
        y={upper + 13}
        fontFamily={mono}
        fontSize={12}
        fontWeight={picked ? 700 : 500}
        fill={picked ? vars.sheet.signal : vars.text.primary}
      >
        {number}
      </text>
    </g>
  );
}
