import { Box, Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useDimmed } from '../../common/useDimmed';
import { WideTable } from '../../common/WideTable';
import { useTheme } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { tripStudyQuery } from '../../api/queries';
import type { Trip, TripCase } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { HeldPace } from './HeldPace';
import { manners } from './measures';

const AlongCharts = lazy(() => import('./AlongCharts'));

/** The way from above, without a map: only the shape, north up. */
function TrackShape({ trip }: { trip: Trip }) {
  const theme = useTheme();
  const points = 'trace' in trip.path ? trip.path.trace : [];
  const placed = points.flatMap((p) =>
    p.east_m == null || p.north_m == null ? [] : [[p.east_m, -p.north_m] as const],
  );
  if (placed.length < 2) return null;
  const xs = placed.map((p) => p[0]);
  const ys = placed.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const size = Math.max(x1 - x0, y1 - y0, 1);
  const pad = size * 0.06;
  const first = placed[0] ?? [0, 0];
  return (
    <Box component="figure" sx={{ m: 0, width: 220 }} aria-label="The way from above, north up">
      <svg
        viewBox={`${String(x0 - pad)} ${String(y0 - pad)} ${String(x1 - x0 + 2 * pad)} ${String(y1 - y0 + 2 * pad)}`}
        width="220"
        height="170"
        aria-hidden
      >
        <polyline
          points={placed.map((p) => p.join(',')).join(' ')}
          fill="none"
          stroke={theme.vars?.palette.sheet.strong}
          strokeWidth="2"
          strokeLinejoin="round"
          vectorEffect="non-scaling-stroke"
        />
        <circle cx={first[0]} cy={first[1]} r={size * 0.02} fill={theme.vars?.palette.sheet.signal} />
      </svg>
      <Typography component="figcaption" variant="caption" color="text.secondary">
        from above, north up; dot: start
      </Typography>
    </Box>
  );
}

/** Range and energy use in summer and winter, driven gently, normally and briskly. */
function Cases({ cases }: { cases: TripCase[] }) {
  const system = useUnits();
  const seasons = [...new Set(cases.map((c) => c.season))];
  const of = (season: string, driving_style: string) =>
    cases.find((c) => c.season === season && c.driving_style === driving_style);
  return (
    <WideTable aria-label="Summer and winter, gently and briskly" sx={{ maxWidth: 560 }}>
      <TableHead>
        <TableRow>
          <TableCell>range, energy use</TableCell>
          {manners.map(([id, word]) => (
            <TableCell key={id} align="right">
              {word}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {seasons.map((season) => (
          <TableRow key={season}>
            <TableCell>
              {season}{' '}
              <Typography component="span" variant="caption" color="text.secondary">
                {showText(of(season, 'normal')?.temperature_c ?? 0, '°C', system)}
              </Typography>
            </TableCell>
            {manners.map(([id]) => {
              const c = of(season, id);
              return (
                <TableCell key={id} align="right" className="figures">
                  {c?.range_km == null ? '–' : showText(c.range_km, 'km', system)}
                  <Typography component="span" variant="caption" color="text.secondary" sx={{ display: 'block' }}>
                    {c?.wh_per_km == null ? '' : showText(c.wh_per_km, 'Wh/km', system)}
                    {c && c.range_km == null ? ', cannot keep up' : ''}
                  </Typography>
                  <HeldPace pace={c?.held_pace} />
                </TableCell>
              );
            })}
          </TableRow>
        ))}
      </TableBody>
    </WideTable>
  );
}

/** One trip looked at closely; computed when it is opened. */
export function TripStudyView({ trip }: { trip: Trip }) {
  const { document } = useWorkbench();
  const { computed } = useResults();
  const [open, setOpen] = useState(false);
  const study = useQuery({ ...tripStudyQuery(document, trip.id), enabled: open && computed.estimate !== undefined });
  const dimmed = useDimmed(study.isPlaceholderData);
  return (
    <Box sx={{ mt: 0.5 }}>
      <Button
        aria-expanded={open}
        onClick={() => {
          setOpen(!open);
        }}
      >
        {open ? 'Close the look along it' : 'Look along it: height, charge, heat, seasons'}
      </Button>
      {open && !computed.estimate && (
        <Typography color="text.secondary">It can be driven once motor, controller and pack are chosen.</Typography>
      )}
      {open && study.isError && <Failed error={study.error} onRetry={() => void study.refetch()} />}
      {open && computed.estimate && study.isPending && <Loading what="the trip" />}
      {open && study.data && (
        <Box sx={{ ...dimmed, mt: 1 }} aria-busy={study.isPlaceholderData}>
          <Suspense fallback={<Loading what="the drawings" />}>
            <AlongCharts along={study.data.along} name={trip.name} />
          </Suspense>
          <Box sx={{ display: 'flex', gap: 4, flexWrap: 'wrap', mt: 1.5, alignItems: 'flex-start' }}>
            <Box sx={{ flex: '1 1 420px' }}>
              <Cases cases={study.data.cases} />
            </Box>
            <TrackShape trip={trip} />
          </Box>
        </Box>
      )}
    </Box>
  );
}
