import { useTheme } from '@mui/material/styles';
import type { BayView } from '../../api/types';
import { useSystemWords } from './words';

const across = 240;

/** What fits into a bay, to scale: from the side, and from above. */
export function BayPicture({ bay }: { bay: BayView }) {
  const theme = useTheme();
  const vars = theme.vars?.palette ?? theme.palette;
  const { size: told } = useSystemWords();
  if (!bay.size_m || !bay.fit) return null;
  const [length = 0, width = 0, height = 0] = bay.size_m;
  const scale = (across - 2) / length;
  const boxes = bay.fit.boxes_m;
  // In the middle of the bay, on its floor, as they would be built in.
  const reach = (axis: 0 | 1) => Math.max(0, ...boxes.map((b) => (b[axis] ?? 0) + (b[axis + 3] ?? 0)));
  const [left, top] = [(length - reach(0)) / 2, (width - reach(1)) / 2];
  const clear = bay.clearance_m;
  const room = { fill: 'none', stroke: vars.text.secondary, strokeDasharray: '5 4' };
  const module = { fill: vars.primary.main, fillOpacity: 0.16, stroke: vars.primary.main, strokeWidth: 1 };
  const gap = 14;
  return (
    <svg
      viewBox={`0 0 ${String(across)} ${((height + width) * scale + gap + 2).toFixed(0)}`}
      role="img"
      aria-label={`${bay.name}, ${told(bay.size_m)}, with ${String(bay.fit.modules)} modules, from the side and from above`}
      style={{ display: 'block', width: '100%', maxWidth: across, maxHeight: 220 }}
    >
      <g transform="translate(1 1)">
        <rect width={length * scale} height={height * scale} {...room} />
        {boxes.map(([x = 0, , z = 0, l = 0, , h = 0], i) => (
          <rect
            key={String(i)}
            x={(left + x) * scale}
            y={(height - clear - z - h) * scale}
            width={l * scale}
            height={h * scale}
            {...module}
          />
        ))}
      </g>
      <g transform={`translate(1 ${(height * scale + gap).toFixed(1)})`}>
        <rect width={length * scale} height={width * scale} {...room} />
        {boxes.map(([x = 0, y = 0, , l = 0, w = 0], i) => (
          <rect
            key={String(i)}
            x={(left + x) * scale}
            y={(top + y) * scale}
            width={l * scale}
            height={w * scale}
            {...module}
          />
        ))}
      </g>
    </svg>
  );
}
