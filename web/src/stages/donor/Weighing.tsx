import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { weighingQuery } from '../../api/queries';
import type { Weighed } from '../../api/types';
import { Choice, Numbers, Row, Section } from '../../fields/Fields';
import { Said } from '../../units/Said';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';

const at = 'donor.evidence.weighing';

/** The donor on scales: what it weighs, how it leans, how high its centre of gravity lies. */
export function Weighing() {
  const { document, edit } = useWorkbench();
  const query = useQuery(weighingQuery(document));
  return (
    <Section
      title="On scales"
      note="empty, fluids in, nobody aboard, tyres at their pressure; before anything comes out"
    >
      <Row>
        <Numbers
          group="Weighing"
          at={at}
          keys={['front_left_kg', 'front_right_kg', 'rear_left_kg', 'rear_right_kg']}
          width={120}
        />
        <Numbers group="Weighing" at={at} keys={['front_kg', 'rear_kg']} width={120} />
      </Row>
      <Box sx={{ mt: 2 }}>
        <Row>
          <Choice
            at={`${at}.lifted`}
            label="Then one axle lifted"
            width={160}
            options={[
              ['', 'not lifted'],
              ['front', 'the front one'],
              ['rear', 'the rear one'],
            ]}
            onChange={(value) => {
              edit(`${at}.lifted`, value === '' ? undefined : value);
            }}
          />
          <Numbers group="Weighing" at={at} keys={['lifted_by_m', 'other_axle_kg', 'loaded_radius_m']} width={190} />
        </Row>
      </Box>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
        Lift on stands made for it, on level ground, the other wheels chocked fore and aft but free of brakes; nobody
        under the vehicle or in its way. Springs blocked, or the height errs by what they give.
      </Typography>
      {query.data && <Found weighed={query.data} fresh={!query.isPlaceholderData && !query.isError} />}
    </Section>
  );
}

/** What the scales tell, and the way into the donor. */
function Found({ weighed: w, fresh }: { weighed: Weighed; fresh: boolean }) {
  const { draft, editAll } = useWorkbench();
  const system = useUnits();
  const donor = draft.donor;
  const rounded = (x: number, digits: number) => Number(x.toFixed(digits));
  const values: [string, number][] = [
    ['curb_mass_kg', rounded(w.mass_kg, 1)],
    ['front_axle_share', rounded(w.front_share, 4)],
    ...(w.cg_height_m == null ? [] : ([['cg_height_m', rounded(w.cg_height_m, 3)]] as [string, number][])),
  ];
  const taken = values.every(([key, value]) => donor[key as 'curb_mass_kg'] === value);
  const take = () => {
    const sources = Object.fromEntries(values.map(([key]) => [key, { from: 'measured' }]));
    editAll([
      ...values.map(([key, value]): [string, unknown] => [`donor.${key}`, value]),
      ['donor.sources', { ...donor.sources, ...sources }],
    ]);
  };
  const side = w.right_m == null ? '' : w.right_m < 0 ? 'left' : 'right';
  return (
    <Box sx={{ mt: 1.5, display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }} role="status">
      <Box>
        <Typography>
          ● <b>{showText(w.mass_kg, 'kg', system, 4)}</b>, {(100 * w.front_share).toFixed(1)} % in front
          {w.right_m != null && (
            <>
              , centre {showText(Math.abs(w.right_m), 'm', system, 2)} {side} of the middle
            </>
          )}
          {w.cg_height_m != null && (
            <>
              , <b>{showText(w.cg_height_m, 'm', system, 3)}</b> above the ground
            </>
          )}
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p">
          {w.height_per_kg_m != null && (
            <>
              Each {showText(1, 'kg', system, 1)} the scales are off moves the height by{' '}
              {showText(w.height_per_kg_m, 'm', system, 2)}.{' '}
            </>
          )}
          {w.diagonal_share != null && (
            <>{(100 * w.diagonal_share).toFixed(1)} % stand on front left and rear right; a half on even springs. </>
          )}
        </Typography>
        {w.doubts.map((d) => (
          <Typography key={JSON.stringify(d)} variant="body2" sx={{ color: 'warning.main' }}>
            ▲ <Said of={d} />
          </Typography>
        ))}
      </Box>
      {taken ? (
        <Typography variant="caption" color="text.secondary">
          in use
        </Typography>
      ) : (
        <Button variant="outlined" disabled={!fresh} onClick={take}>
          Use what was weighed
        </Button>
      )}
    </Box>
  );
}
