import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { Jumps } from '../../common/Jumps';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { DrivelineFields } from '../../fields/DrivelineFields';
import { QuantityField, sourceWords } from '../../fields/QuantityField';
import { field, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { Toggle } from '../../fields/Toggle';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { kindWords } from '../../common/kinds';
import { StateFields } from './CandidateFields';
import { Candidates } from './Candidates';
import { EvidenceSection } from './EvidenceSection';
import { NetworkSection } from './NetworkSection';
import { Passes } from './Passes';
import { Photographs } from './Photographs';
import { Teardown } from './Teardown';
import { Weighing } from './Weighing';

function TyreFields() {
  const { draft, edit } = useWorkbench();
  const { computed } = useResults();
  const tyre = draft.donor.tyre;
  const system = useUnits();
  const byCode = 'code' in tyre;
  const refused = computed.problem?.problems.find((p) => p.path === 'donor.tyre.code');
  return (
    <>
      <TextField
        select
        label="Tyre given by"
        value={byCode ? 'code' : 'radius'}
        sx={{ width: 130 }}
        slotProps={{ inputLabel: { shrink: true } }}
        onChange={(e) => {
          const radius = computed.estimate?.rolling_radius_m ?? 0.28;
          edit(
            'donor.tyre',
            e.target.value === 'code' ? { code: '175/70 R13' } : { rolling_radius_m: Number(radius.toFixed(4)) },
          );
        }}
      >
        <MenuItem value="code">code on its side</MenuItem>
        <MenuItem value="radius">rolling radius</MenuItem>
      </TextField>
      {byCode ? (
        <TextField
          label="Tyre code"
          value={tyre.code}
          error={refused !== undefined}
          helperText={
            refused?.accepted ??
            (computed.estimate
              ? `rolls at ${showText(computed.estimate.rolling_radius_m, 'm', system, 4)} radius`
              : ' ')
          }
          sx={{ width: 220 }}
          onChange={(e) => {
            edit('donor.tyre', { code: e.target.value });
          }}
          slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
        />
      ) : (
        <QuantityField
          of={field('Tyre', 'rolling_radius_m')}
          value={tyre.rolling_radius_m}
          onChange={(v) => {
            if (v !== undefined) edit('donor.tyre', { rolling_radius_m: v });
          }}
        />
      )}
    </>
  );
}

function MassAccount() {
  const { draft } = useWorkbench();
  const { computed } = useResults();
  const system = useUnits();
  const m = computed.estimate?.masses;
  if (!m) return null;
  const rows: [string, number, number | null | undefined][] = [
    ['as it stood', m.donor_kg, null],
    ['taken out', -m.removed_kg, null],
    ['motor and controller', m.motors_kg + m.controllers_kg, null],
    ['pack', m.pack_kg, null],
    ['charger and the rest', m.charger_kg + m.other_kg, null],
    ['converted, empty', m.converted_kg, null],
    ['laden, with driver', m.test_kg, draft.donor.gross_limit_kg],
    ['on the front axle', m.front_axle_kg, draft.donor.front_axle_limit_kg],
    ['on the rear axle', m.rear_axle_kg, draft.donor.rear_axle_limit_kg],
  ];
  return (
    <Section title="What it weighs" note="variant in hand">
      <Box
        component="dl"
        sx={{ display: 'grid', gridTemplateColumns: 'auto auto 1fr', columnGap: 3, rowGap: 0.5, m: 0, maxWidth: 460 }}
      >
        {rows.map(([word, kg, limit]) => (
          <Box key={word} sx={{ display: 'contents' }}>
            <Typography component="dt" color="text.secondary">
              {word}
            </Typography>
            <Typography component="dd" className="figures" sx={{ m: 0, textAlign: 'right' }}>
              {showText(kg, 'kg', system, 4)}
            </Typography>
            <Typography
              component="dd"
              variant="caption"
              sx={{ m: 0, color: limit != null && kg > limit ? 'error.main' : 'text.secondary' }}
            >
              {limit == null ? '' : `${kg > limit ? '▲ over the rated' : 'of'} ${showText(limit, 'kg', system, 4)}`}
            </Typography>
          </Box>
        ))}
      </Box>
    </Section>
  );
}

/** In their order on the page. */
const parts = [
  'Vehicle',
  'Candidates',
  'Photographs',
  'Mass',
  'On scales',
  'By the clock',
  'Its own network',
  'Road load',
  'Evidence for the road load',
  'Wheels',
  'Gearbox and final drive',
  'Taken out',
  'What it weighs',
];

export default function DonorStage() {
  const { draft, edit } = useWorkbench();
  return (
    <Box sx={{ maxWidth: 1100 }}>
      <Jumps to={parts} />
      <Section title="Vehicle">
        <Row>
          <Words at="donor.name" label="Name" />
          <Choice at="donor.kind" label="Kind" options={Object.entries(kindWords)} />
          <Numbers group="Donor" at="donor" keys={['built', 'purchase_price']} width={120} />
          <Words at="donor.notes" label="Notes" width={420} multiline />
        </Row>
        <Box sx={{ mt: 2 }}>
          <StateFields at="donor" />
        </Box>
      </Section>
      <Candidates />
      <Photographs />
      <Section
        title="Mass"
        note={`where a value comes from: ${Object.values(sourceWords)
          .map((s) => `${s.mark} ${s.word}`)
          .join('  ')}`}
      >
        <Row>
          <Numbers
            group="Donor"
            at="donor"
            keys={[
              'curb_mass_kg',
              'gross_limit_kg',
              'front_axle_limit_kg',
              'rear_axle_limit_kg',
              'front_axle_share',
              'wheelbase_m',
              'cg_height_m',
              'test_mass_kg',
            ]}
            width={190}
          />
        </Row>
      </Section>
      <Weighing />
      <Passes />
      <NetworkSection />
      <Section title="Road load">
        <Row>
          <Numbers
            group="Donor"
            at="donor"
            keys={[
              'drag_coefficient',
              'frontal_area_m2',
              'rolling_coefficient',
              'rolling_coefficient_per_m_s',
              'undriven_axle_drag_n',
            ]}
            width={180}
          />
          <Toggle
            label="that axle is disconnected"
            on={draft.donor.undriven_axle_free ?? false}
            onChange={(on) => {
              edit('donor.undriven_axle_free', on);
            }}
          />
        </Row>
      </Section>
      <EvidenceSection />
      <Section title="Wheels">
        <Row>
          <Choice
            at="donor.driven_axle"
            label="Driven"
            options={[
              ['front', 'front wheels'],
              ['rear', 'rear wheels'],
              ['all', 'all wheels'],
            ]}
          />
          <TyreFields />
          <Numbers group="Donor" at="donor" keys={['adhesion', 'rotating_mass_factor']} width={190} />
        </Row>
      </Section>
      <Section title="Gearbox and final drive">
        <DrivelineFields at="donor.driveline" />
      </Section>
      <Teardown />
      <MassAccount />
    </Box>
  );
}
