import { Box } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { memo } from 'react';
import { SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import type { Choices } from '../../api/types';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

/** The design over the ratio of its driveline: what is gained and lost by other sprockets or another final drive. */
export default memo(function RatioChart({ choices, sprint }: { choices: Choices; sprint: string }) {
  const system = useUnits();
  const theme = useTheme();
  const sheet = theme.vars?.palette.sheet ?? theme.palette.sheet;
  const points = choices.ratios;
  const today = points[Math.floor(points.length / 2)];
  if (!today) return null;
  const share = (of: (p: (typeof points)[number]) => number | null | undefined) => {
    const now = of(today);
    return points.map((p) => {
      const v = of(p);
      return v == null || now == null || now <= 0 ? null : (100 * v) / now;
    });
  };
  const seconds = (s: number | null | undefined) => (s == null ? 'never' : `${s.toFixed(1)} s`);
  const lines = [
    {
      id: 'top',
      label: 'top',
      data: share((p) => p.top_speed_kmh),
      told: points.map((p) => showText(p.top_speed_kmh, 'km/h', system)),
      color: sheet.strong,
      width: 2,
    },
    {
      id: 'hill',
      label: 'hill',
      data: share((p) => p.hill_start_percent),
      told: points.map((p) => `${figures(p.hill_start_percent)} %`),
      color: sheet.doubt,
    },
    {
      id: 'sprint',
      label: 'sprint',
      data: share((p) => p.sprint_s),
      told: points.map((p) => seconds(p.sprint_s)),
      color: sheet.good,
      dashed: true,
    },
  ];
  return (
    <Box>
      <SheetLines
        title={
          <Title
            word="Over the ratio"
            note={`of today’s: ${showText(today.top_speed_kmh, 'km/h', system)}, a start on ${figures(today.hill_start_percent)} %, ${sprint} in ${seconds(today.sprint_s)}`}
          />
        }
        summary={`With half the ratio ${lines.map((l) => `${l.label} ${l.told[0] ?? ''}`).join(', ')}; with twice ${lines.map((l) => `${l.label} ${l.told.at(-1) ?? ''}`).join(', ')}.`}
        x={points.map((p) => p.overall_ratio)}
        xUnit=": 1"
        xMin={points[0]?.overall_ratio ?? 0}
        yWord="Share of today’s"
        yUnit="%"
        yMax={Math.min(250, Math.ceil(Math.max(...lines.flatMap((l) => l.data.map((v) => v ?? 0))) / 50) * 50)}
        mark={{ at: today.overall_ratio, word: `today ${figures(today.overall_ratio)}` }}
        lines={lines}
        height={220}
      />
    </Box>
  );
});
