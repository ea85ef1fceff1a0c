import { Box, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useDimmed } from '../../common/useDimmed';
import { Loading } from '../../common/States';
import { WideTable } from '../../common/WideTable';
import { useQuery } from '@tanstack/react-query';
import { lazy, memo, Suspense } from 'react';
import { choicesQuery } from '../../api/queries';
import type { Estimate } from '../../api/types';
import { convert, figures, shownUnit, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { same } from '../../workbench/merge';
import { useResults } from '../../workbench/WorkbenchContext';

const RatioChart = lazy(() => import('./RatioChart'));

interface SheetProps {
  title: string;
  note: string;
  head: string[];
  rows: string[][];
}

/** A table of words; painted anew only where they have changed. */
const Sheet = memo(function Sheet({ title, note, head, rows }: SheetProps) {
  return (
    <Box component="section" aria-label={title} sx={{ minWidth: 0 }}>
      <Typography variant="h2" component="h3">
        {title}{' '}
        <Typography component="span" variant="caption" color="text.secondary">
          {note}
        </Typography>
      </Typography>
      <WideTable aria-label={title}>
        <TableHead>
          <TableRow>
            {head.map((h, i) => (
              <TableCell key={h} align={i === 0 ? 'left' : 'right'}>
                {h}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((cells, r) => (
            <TableRow key={String(r)}>
              {cells.map((cell, i) => (
                <TableCell
                  key={String(i)}
                  align={i === 0 ? 'left' : 'right'}
                  className={i === 0 ? '' : 'figures'}
                  sx={{ whiteSpace: 'nowrap', fontSize: i === 0 ? undefined : '0.78rem' }}
                >
                  {cell}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
    </Box>
  );
}, same);

const seconds = (s: number | null | undefined) => (s == null ? 'continuous' : `${figures(s)} s`);
const time = (s: number | null | undefined) => (s == null ? 'never' : `${s.toFixed(1)} s`);

/** Locked gears against shifting, the volts a speed needs, other windings, and how long the bursts last. */
export const ChoicesView = memo(function ChoicesView({ heat }: { heat: Estimate['performance']['heat'] }) {
  const { settled } = useResults();
  const system = useUnits();
  const { data, isPlaceholderData } = useQuery(choicesQuery(settled));
  const dimmed = useDimmed(isPlaceholderData);
  const sprint = data
    ? `${figures(convert(data.sprint_from_kmh, 'km/h', shownUnit('km/h', system)))}–${showText(data.sprint_to_kmh, 'km/h', system)}`
    : '';
  const several = (data?.gears ?? []).some((g) => (g.range ?? 1) > 1);
  const place = (gear: number | null | undefined, range: number | null | undefined) =>
    gear == null ? 'shifting' : `gear ${String(gear)}${several ? `, range ${String(range ?? 1)}` : ''}`;
  return (
    <Box
      aria-busy={isPlaceholderData}
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', md: '1.15fr 1fr' },
        columnGap: 4,
        rowGap: 3,
        borderTop: '1px solid',
        borderColor: 'divider',
        mt: 2,
        pt: 1.5,
        ...dimmed,
      }}
    >
      {data && data.ratios.length > 0 && (
        <Suspense fallback={<Loading what="the drawing" />}>
          <RatioChart choices={data} sprint={sprint} />
        </Suspense>
      )}
      {data && (
        <Sheet
          title="Locked or shifting"
          note="the same chain, one gear at a time"
          head={['gears', 'ratio', sprint, 'top', 'start', 'on the first trip']}
          rows={data.gears.map((g) => [
            place(g.gear, g.range),
            figures(g.overall_ratio),
            time(g.sprint_s),
            showText(g.top_speed_kmh, 'km/h', system),
            `${figures(g.hill_start_percent)} %`,
            g.wh_per_km == null ? 'cannot keep up' : showText(g.wh_per_km, 'Wh/km', system),
          ])}
        />
      )}
      <Sheet
        title="How long a peak lasts"
        note={`warm: after hours at ${showText(heat.warm_kmh, 'km/h', system)}`}
        head={['', 'may reach', 'warm', 'full torque, cold', 'from warm']}
        rows={(['motor', 'controller'] as const).map((part) => [
          part,
          showText(heat[part].limit_c, '°C', system),
          showText(heat[part].warm_c, '°C', system),
          seconds(heat[part].peak_cold_s),
          seconds(heat[part].peak_warm_s),
        ])}
      />
      {data && (
        <Sheet
          title={`Volts for ${showText(data.wanted_kmh, 'km/h', system)}`}
          note="rpm per volt: needed under load, and available"
          head={['gear', 'motor', 'sagged bus', 'needed', 'has, loaded', 'unloaded']}
          rows={data.speed_needs.map((n) => [
            `${n.reached ? '●' : '○'} ${String(n.gear)}${several ? `, range ${String(n.range)}` : ''}`,
            `${figures(n.motor_rpm)} rpm`,
            n.loaded_bus_v == null ? 'too much' : `${figures(n.loaded_bus_v)} V`,
            n.needed_rpm_per_v == null ? '–' : figures(n.needed_rpm_per_v),
            n.loaded_rpm_per_v == null ? '–' : figures(n.loaded_rpm_per_v),
            n.no_load_rpm_per_v == null ? '–' : figures(n.no_load_rpm_per_v),
          ])}
        />
      )}
      {data && data.windings.length > 0 && (
        <Sheet
          title="Other windings"
          note="the same motor with more or fewer turns"
          head={['turns', 'N·m/A', 'Ω', 'peak', sprint, 'top', 'start']}
          rows={data.windings.map((w) => [
            `× ${figures(w.turns)}`,
            figures(w.torque_constant_nm_a),
            figures(w.resistance_ohm),
            `${figures(w.peak_current_a)} A`,
            time(w.sprint_s),
            showText(w.top_speed_kmh, 'km/h', system),
            `${figures(w.hill_start_percent)} %`,
          ])}
        />
      )}
    </Box>
  );
});
