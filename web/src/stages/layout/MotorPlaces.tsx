import { TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { MechanicsSheet } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { Section } from '../../fields/Fields';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useSystemWords } from './words';

const drives = { front: 'front wheels', rear: 'rear wheels', all: 'all wheels' } as const;

/** What changes with the place of the motors: grip, balance, height, and what hangs on the wheels. */
export function MotorPlaces({ rows }: { rows: MechanicsSheet['motor_places'] }) {
  const system = useUnits();
  const words = useSystemWords();
  if (rows.length === 0) return null;
  return (
    <Section title="What the motor’s place changes" note="with the same motors and everything else where it is">
      <WideTable aria-label="Places of the motor">
        <TableHead>
          <TableRow>
            <TableCell>The motors sit</TableCell>
            <TableCell>driven</TableCell>
            <TableCell align="right">the tyres pull at most</TableCell>
            <TableCell align="right">in front, laden</TableCell>
            <TableCell align="right">centre of gravity</TableCell>
            <TableCell align="right">unsprung on each wheel</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((r) => (
            <TableRow key={r.place} data-testid={`motor-${r.place}`} selected={r.now}>
              <TableCell component="th" scope="row">
                {r.words}
                {r.now && (
                  <Typography component="span" variant="caption" color="text.secondary">
                    {' '}
                    · as it is
                  </Typography>
                )}
              </TableCell>
              <TableCell>{drives[r.drives]}</TableCell>
              <TableCell align="right" className="figures">
                {showText(r.grip_n, 'N', system, 3)}
              </TableCell>
              <TableCell align="right" className="figures">
                {words.percent(r.front_share)}
              </TableCell>
              <TableCell align="right" className="figures">
                {showText(r.cg_height_m, 'm', system, 3)}
              </TableCell>
              <TableCell align="right" className="figures">
                {r.unsprung_kg > 0 ? words.kg(r.unsprung_kg) : 'none'}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
        At the wheels there is no gear between motor and road, and every hole in it shakes the motor; ahead of the
        driveline the gears multiply its torque. Chosen on the Chain stage, by a click on the motor.
      </Typography>
    </Section>
  );
}
