import { Box, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { WideTable } from '../../common/WideTable';
import type { LayoutSheet } from '../../api/types';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { laden, type Move } from './account';

const percent = (x: number) => `${(100 * x).toFixed(0)} %`;

/** A load as a bar against its rating. */
function Limit({ name, kg, rated }: { name: string; kg: number; rated: number }) {
  const system = useUnits();
  const over = kg > rated;
  // The rating stands at four fifths of the way, so that what is over it is seen.
  const share = Math.min(Math.max(kg / rated, 0) * 80, 100);
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1 }}>
        <Typography variant="body2">{name}</Typography>
        <Typography
          variant="body2"
          className="figures"
          sx={{ fontWeight: over ? 700 : 400, color: over ? 'error.main' : undefined }}
        >
          {over && '▲ over: '}
          {showText(kg, 'kg', system, 3)} of {showText(rated, 'kg', system, 3)}
        </Typography>
      </Box>
      <Box sx={{ position: 'relative', height: 8, bgcolor: 'action.hover' }} aria-hidden>
        <Box sx={{ height: 8, width: `${String(share)}%`, bgcolor: over ? 'error.main' : 'secondary.main' }} />
        <Box
          sx={{
            position: 'absolute',
            left: '80%',
            top: -2,
            height: 12,
            borderLeft: '2px solid',
            borderColor: 'text.primary',
          }}
        />
      </Box>
    </Box>
  );
}

/** Loads against their ratings, and every state from the donor to the laden vehicle. */
export function Loads({ sheet, move }: { sheet: LayoutSheet; move: Move | null }) {
  const system = useUnits();
  const kg = (x: number) => showText(x, 'kg', system, 3);
  // A single wheel, or a pair that has no track, is one load.
  const wheels = (end: string, [left = 0, right = 0]: number[], track: number) =>
    track > 0 ? `${end} ${kg(left)} left, ${kg(right)} right` : `${end} ${kg(left + right)}`;
  const now = laden(sheet, move);
  const last = sheet.states.at(-1);
  const known = now.limits.length > 0;
  return (
    <Box>
      <Typography variant="h3" sx={{ mb: 1 }}>
        Laden against its ratings
      </Typography>
      {now.limits.map((l) => (
        <Limit key={l.of} name={l.name} kg={l.laden_kg} rated={l.limit_kg} />
      ))}
      {!known && (
        <Typography variant="body2" color="text.secondary">
          No rating is known yet: state gross and axle masses of the plate at the donor, and the load index of the tyres
          below.
        </Typography>
      )}
      <WideTable
        aria-label="Loads from donor to laden"
        sx={{ mt: 1.5, '& td, & th': { px: 0.75, py: 0.4 }, '& td': { whiteSpace: 'nowrap' } }}
      >
        <TableHead>
          <TableRow>
            <TableCell>State</TableCell>
            <TableCell align="right">Mass</TableCell>
            <TableCell align="right">Front</TableCell>
            <TableCell align="right">Rear</TableCell>
            <TableCell align="right">In front</TableCell>
            <TableCell align="right">Centre up</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {sheet.states.map((s) => (
            <TableRow key={s.id} data-testid={`state-${s.id}`}>
              <TableCell component="th" scope="row">
                {s.name}
              </TableCell>
              <TableCell align="right">{kg(s.mass_kg)}</TableCell>
              <TableCell align="right">{kg(s.front_kg)}</TableCell>
              <TableCell align="right">{kg(s.rear_kg)}</TableCell>
              <TableCell align="right">{percent(s.front_share)}</TableCell>
              <TableCell align="right">{showText(s.up_m, 'm', system, 2)}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
      {last && (
        <Box
          component="dl"
          sx={{
            display: 'grid',
            gridTemplateColumns: 'auto 1fr',
            columnGap: 2,
            rowGap: 0.25,
            mt: 1.5,
            mb: 0,
            '& dd': { m: 0 },
          }}
        >
          <Typography component="dt" variant="body2" color="text.secondary">
            Wheels laden
          </Typography>
          <Typography component="dd" variant="body2" className="figures">
            {wheels('front', last.corners_kg.slice(0, 2), sheet.outline.track_front_m)};{' '}
            {wheels('rear', last.corners_kg.slice(2), sheet.outline.track_rear_m)}
          </Typography>
          <Typography component="dt" variant="body2" color="text.secondary">
            Tips over
          </Typography>
          <Typography component="dd" variant="body2" className="figures">
            {last.tips_sideways_deg != null && `sideways at ${last.tips_sideways_deg.toFixed(0)}°, `}
            backwards at {last.tips_backwards_deg.toFixed(0)}°, forwards at {last.tips_forwards_deg.toFixed(0)}°,
            standing still; springs, turns and bumps leave less
          </Typography>
        </Box>
      )}
    </Box>
  );
}
