import { Typography } from '@mui/material';

import type { PaceResult } from '../../api/types';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

/** How far it gets at the pace it can hold, where a trip is too quick for it to be followed until the window is spent. */
export function HeldPace({ pace }: { pace: PaceResult | null | undefined }) {
  const system = useUnits();
  if (!pace) return null;
  return (
    <Typography variant="caption" component="div" color="text.secondary">
      {showText(pace.range_km, 'km', system)} at {(pace.share * 100).toFixed(0)} % of its speeds
    </Typography>
  );
}
