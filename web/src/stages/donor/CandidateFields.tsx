import { Box, Checkbox, FormControlLabel, Typography } from '@mui/material';
import type { AlreadyElectric, Donor } from '../../api/types';
import { kindWords } from '../../common/kinds';
import { DrivelineFields } from '../../fields/DrivelineFields';
import { Choice, Numbers, Row, Words } from '../../fields/Fields';
import { get } from '../../workbench/merge';
import { useWorkbench } from '../../workbench/WorkbenchContext';

/** What can be told of a vehicle that stands at somebody else's. */
export function CandidateFields({ at }: { at: string }) {
  return (
    <Box sx={{ py: 1.5, display: 'grid', gap: 2 }}>
      <Row>
        <Words at={`${at}.name`} label="Name" width={200} />
        <Choice at={`${at}.kind`} label="Kind" options={Object.entries(kindWords)} />
        <Numbers group="Donor" at={at} keys={['purchase_price', 'built', 'curb_mass_kg']} width={120} />
        <Numbers
          group="Donor"
          at={at}
          keys={['gross_limit_kg', 'front_axle_limit_kg', 'rear_axle_limit_kg', 'front_axle_share', 'wheelbase_m']}
          width={150}
        />
      </Row>
      <Row>
        <Numbers
          group="Donor"
          at={at}
          keys={['drag_coefficient', 'frontal_area_m2', 'rolling_coefficient']}
          width={150}
        />
        <Words at={`${at}.notes`} label="Notes" width={380} multiline />
      </Row>
      <StateFields at={at} />
      <DrivelineFields at={`${at}.driveline`} />
      <Typography variant="caption" color="text.secondary">
        Bays, places and tyres are filled in once it is the donor; it comes back as a candidate with all of that.
      </Typography>
    </Box>
  );
}

const works: [AlreadyElectric, string][] = [
  ['steering', 'steering'],
  ['brakes', 'brakes'],
  ['heating', 'heating'],
  ['air_conditioning', 'air conditioning'],
  ['parking_brake', 'parking brake'],
];

/** The state a vehicle is in, and what of it works without its engine. */
export function StateFields({ at }: { at: string }) {
  const { draft, edit } = useWorkbench();
  const electric = (get(draft, `${at}.already_electric`) as Donor['already_electric']) ?? [];
  return (
    <Row>
      <Numbers group="Condition" at={`${at}.condition`} keys={['body', 'running_gear', 'spares']} width={150} />
      <Words
        at={`${at}.condition.seen`}
        label="Seen"
        placeholder="rust at the sills, good gearbox"
        width={380}
        multiline
      />
      <Box role="group" aria-label="Works without its engine">
        <Typography variant="caption" color="text.secondary" component="div">
          works without its engine
        </Typography>
        {works.map(([key, word]) => (
          <FormControlLabel
            key={key}
            sx={{ mr: 1.5 }}
            control={
              <Checkbox
                size="small"
                sx={{ py: 0.25 }}
                checked={electric.includes(key)}
                onChange={(e) => {
                  const next = works
                    .map(([k]) => k)
                    .filter((k) => (k === key ? e.target.checked : electric.includes(k)));
                  edit(`${at}.already_electric`, next.length > 0 ? next : undefined);
                }}
              />
            }
            label={word}
          />
        ))}
      </Box>
    </Row>
  );
}
