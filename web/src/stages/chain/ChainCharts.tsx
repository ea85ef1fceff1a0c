import { Box, Typography } from '@mui/material';
import { useAfterPaint } from '../../common/useAfterPaint';
import { useDimmed } from '../../common/useDimmed';
import { useTheme } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { memo } from 'react';
import { curvesQuery } from '../../api/queries';
import type { Curves } from '../../api/types';
import { type Line, SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import type { Sheet } from '../../theme';
import { convert, figures, showText, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useFreshness, useWorkbench } from '../../workbench/WorkbenchContext';

function useSheet(): Sheet {
  const theme = useTheme();
  // With CSS variables the colours follow the scheme by themselves; only lists of them have to be read one by one.
  const vars = theme.vars?.palette.sheet ?? theme.palette.sheet;
  return vars;
}

const PullChart = memo(function PullChart({ curves }: { curves: Curves }) {
  const system = useUnits();
  const sheet = useSheet();
  const force = shownUnit('kN', system);
  const speedUnit = shownUnit('km/h', system);
  const x = curves.speed_kmh.map((v) => convert(v, 'km/h', speedUnit));
  const y = (n: number | null | undefined) => (n == null ? null : convert(n, 'N', force));
  const top = Math.max(...curves.gears.flatMap((g) => g.force_n.map((f) => f ?? 0)), 1);
  const yMax = y(top * 1.08) ?? 1;
  const gears: Line[] = curves.gears.map((g, i) => ({
    id: `gear-${String(g.gear)}-${String(g.range)}`,
    label: curves.gears.length === 1 ? 'pull' : `gear ${String(g.gear)}`,
    data: g.force_n.map(y),
    color: sheet.gears[i % sheet.gears.length] ?? 'currentColor',
    labelAt: Math.min(
      2 + 3 * i,
      Math.max(
        0,
        g.force_n.findLastIndex((f) => f !== null),
      ),
    ),
    width: 2,
  }));
  const grades: Line[] = curves.grades.map((g) => ({
    id: `grade-${String(g.grade_percent)}`,
    label: `${String(g.grade_percent)} %`,
    data: g.force_n.map((f) => (f > top * 1.08 ? null : y(f))),
    color: sheet.strong,
    dashed: g.grade_percent > 0,
    width: 1,
  }));
  const continuous: Line = {
    id: 'continuous',
    label: 'continuous',
    data: curves.continuous_n.map((f) => (f > 0 ? y(f) : null)),
    color: sheet.signal,
    width: 1.25,
    labelled: false,
  };
  const best = Math.max(...curves.gears.map((g) => g.force_n[0] ?? 0));
  return (
    <SheetLines
      title={
        <Title word="Tractive force" note="by gear at peak; red: best gear, continuous; dashed: what grades take" />
      }
      summary={`From rest the wheels pull at most ${figures(y(best) ?? 0)} ${force}. The tyres slip at ${figures(y(curves.grip_n) ?? 0)} ${force}.`}
      x={x}
      xUnit={speedUnit}
      yWord="Tractive force"
      yUnit={force}
      yMax={yMax}
      lines={[...grades, continuous, ...gears]}
      height={262}
    />
  );
});

/** What holds the pull back, by name, from rest to the top speed. */
function Binding({ stretches }: { stretches: Curves['binding'] }) {
  const system = useUnits();
  return (
    <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
      limited by{' '}
      {stretches.map((s, i) => (
        <span key={String(i)}>
          {i > 0 && ', '}
          <b>{s.word}</b> (gear {String(s.gear)}) to {showText(s.to_kmh, 'km/h', system)}
        </span>
      ))}
    </Typography>
  );
}

const RunChart = memo(function RunChart({ run }: { run: Curves['run'] }) {
  const system = useUnits();
  const sheet = useSheet();
  const unit = shownUnit('km/h', system);
  const x = run.time_s;
  if (x.length < 2) return null;
  return (
    <SheetLines
      title={<Title word="Speed over time" note="from rest, level road, the quickest use of the gears" />}
      summary={`Reaches ${showText(run.speed_kmh.at(-1) ?? 0, 'km/h', system)} after ${figures(x.at(-1) ?? 0)} s.`}
      x={x}
      xUnit="s"
      yWord="Speed"
      yUnit={unit}
      lines={[
        {
          id: 'speed',
          label: unit,
          data: run.speed_kmh.map((v) => convert(v, 'km/h', unit)),
          color: sheet.strong,
          width: 2,
          labelled: false,
        },
      ]}
      height={150}
    />
  );
});

/** Tractive force over speed with what binds it, and a run over time. */
export default function ChainCharts() {
  const { document } = useWorkbench();
  const { stale } = useFreshness();
  // Claims come first: what is drawn is asked for once the estimate has been painted.
  const painted = useAfterPaint(stale ? null : document);
  const query = useQuery({ ...curvesQuery(document), enabled: painted === document });
  const curves = useAfterPaint(query.data);
  return curves && <Drawings curves={curves} before={query.isPlaceholderData} />;
}

/** The drawings, dimmed while they are those before the last edit. */
const Drawings = memo(function Drawings({ curves, before }: { curves: Curves; before: boolean }) {
  const dimmed = useDimmed(before);
  return (
    <Box sx={dimmed} aria-busy={before}>
      <PullChart curves={curves} />
      <Binding stretches={curves.binding} />
      <Box sx={{ mt: 1.5 }}>
        <RunChart run={curves.run} />
      </Box>
    </Box>
  );
});
