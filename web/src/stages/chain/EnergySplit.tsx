import { memo } from 'react';
import { Box, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import type { TripResult } from '../../api/types';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

const shares: [keyof TripResult['split'], string, string][] = [
  ['air_wh_per_km', 'air', 'air'],
  ['rolling_wh_per_km', 'rolling', 'rolling'],
  ['climb_wh_per_km', 'climb', 'climb'],
  ['driveline_wh_per_km', 'gears', 'driveline'],
  ['motor_wh_per_km', 'motor', 'motor'],
  ['controller_wh_per_km', 'controller', 'controller'],
  ['low_voltage_wh_per_km', '12 V', 'low_voltage'],
  ['hvac_wh_per_km', 'heater', 'comfort'],
  ['brakes_wh_per_km', 'brakes', 'brakes'],
];

function Legend({ used }: { used: typeof shares }) {
  const theme = useTheme();
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.5, mb: 0.75 }} aria-hidden>
      {used.map(([key, word, color]) => (
        <Typography key={key} variant="caption" color="text.secondary" sx={{ whiteSpace: 'nowrap' }}>
          <Box
            component="span"
            sx={{
              display: 'inline-block',
              width: 9,
              height: 9,
              mr: 0.5,
              bgcolor: theme.vars?.palette.sheet.split[color],
            }}
          />
          {word}
        </Typography>
      ))}
    </Box>
  );
}

/** Where the energy of each trip goes, bars to one scale. */
export const EnergySplit = memo(function EnergySplit({ trips }: { trips: TripResult[] }) {
  const theme = useTheme();
  const system = useUnits();
  const most = Math.max(1, ...trips.map((t) => (t.wh_per_km ?? 0) + Math.max(0, -t.split.climb_wh_per_km)));
  const wh = (v: number) => showText(v, 'Wh/km', system);
  return (
    <Box>
      <Legend used={shares.filter(([key]) => trips.some((t) => t.split[key] > 0.05))} />
      {trips.map((t) => (
        <Box
          key={t.trip}
          component="figure"
          sx={{ m: 0, mb: 0.75 }}
          aria-label={`${t.name}: ${shares.map(([k, w]) => `${w} ${wh(t.split[k])}`).join(', ')}`}
        >
          <Box component="figcaption" sx={{ display: 'flex', justifyContent: 'space-between', gap: 1 }}>
            <Typography variant="body2">{t.name}</Typography>
            <Typography variant="body2" className="figures" sx={{ fontWeight: 600, whiteSpace: 'nowrap' }}>
              {t.wh_per_km == null ? 'does not move' : wh(t.wh_per_km)}
            </Typography>
          </Box>
          <Box sx={{ display: 'flex', height: 16, width: '100%' }} aria-hidden>
            {shares.map(([key, word, color]) => {
              const value = Math.max(0, t.split[key]);
              const width = (100 * value) / most;
              return value <= 0 ? null : (
                <Box
                  key={key}
                  title={`${word} ${wh(value)}`}
                  sx={{
                    width: `${String(width)}%`,
                    bgcolor: theme.vars?.palette.sheet.split[color],
                    borderRight: '1px solid',
                    borderColor: 'background.default',
                    overflow: 'hidden',
                  }}
                />
              );
            })}
          </Box>
          {t.split.recovered_wh_per_km > 0.05 && (
            <Typography variant="caption" color="text.secondary">
              {wh(t.split.recovered_wh_per_km)} given back by braking, already taken off
            </Typography>
          )}
        </Box>
      ))}
    </Box>
  );
});
