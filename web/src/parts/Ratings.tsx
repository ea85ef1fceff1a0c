import { Box, Button, Typography } from '@mui/material';
import { memo, useState } from 'react';
import type { PartKind } from '../api/types';
import { Numbers, Row } from '../fields/Fields';
import { sourceWords } from '../fields/QuantityField';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { modelKeys } from './records';
import { CurvePaste } from './CurvePaste';

/** Where each kind of part stands in a design, and the numbers of its record. */
const places: Record<PartKind, { at: string; group: string; keys: string[] }> = {
  motor: {
    at: 'motor',
    group: 'Motor',
    keys: [
      'continuous_power_w',
      'continuous_torque_nm',
      'peak_s',
      'best_efficiency',
      'no_load_power_w',
      'torque_per_amp_nm_a',
      'reference_voltage_v',
      'max_speed_rpm',
      'max_voltage_v',
      'max_temperature_c',
      'mass_kg',
      'price',
    ],
  },
  controller: {
    at: 'controller',
    group: 'Controller',
    keys: [
      'battery_current_a',
      'battery_current_continuous_a',
      'motor_current_a',
      'motor_current_continuous_a',
      'peak_s',
      'efficiency',
      'min_voltage_v',
      'max_voltage_v',
      'regeneration_current_a',
      'max_temperature_c',
      'mass_kg',
      'price',
    ],
  },
  module: {
    at: 'pack.module',
    group: 'Module',
    keys: [
      'capacity_ah',
      'capacity_share',
      'resistance_ohm',
      'resistance_factor',
      'continuous_c',
      'peak_c',
      'charge_c',
      'full_voltage_v',
      'cutoff_voltage_v',
      'peukert_exponent',
      'charge_efficiency',
      'acceptance_per_h',
      'taper_end_c',
      'cold_factor',
      'mass_kg',
      'price',
    ],
  },
  charger: {
    at: 'charger',
    group: 'Charger',
    keys: ['output_power_w', 'output_current_a', 'output_min_v', 'output_max_v', 'efficiency', 'mass_kg', 'price'],
  },
};

interface RatingsProps {
  part: PartKind;
}

/** Every rating of the part in hand, each with where it comes from; changes stay in this variant. */
export function Ratings({ part }: RatingsProps) {
  const { active, document } = useWorkbench();
  return <OfPart part={part} design={active.id} model={document.design.motor?.model.kind} />;
}

const OfPart = memo(function OfPart({
  part,
  design,
  model,
}: RatingsProps & { design: string; model?: string | undefined }) {
  const [open, setOpen] = useState(false);
  const place = places[part];
  const at = `designs.${design}.${place.at}`;
  return (
    <Box sx={{ mt: 1.5 }}>
      <Button
        aria-expanded={open}
        onClick={() => {
          setOpen(!open);
        }}
      >
        {open ? 'Close its ratings' : 'Its ratings, and how far each is trusted'}
      </Button>
      {open && (
        <>
          <Typography variant="caption" color="text.secondary" component="p" sx={{ mb: 1 }}>
            Changes stay in this variant.{' '}
            {Object.values(sourceWords)
              .map((s) => `${s.mark} ${s.word}`)
              .join('  ')}
          </Typography>
          <Row>
            {part === 'motor' && model && (modelKeys[model] ?? []).length > 0 && (
              <Numbers
                group="MotorModel"
                at={`${at}.model`}
                keys={modelKeys[model] ?? []}
                sourcesAt={at}
                prefix="model."
                width={150}
              />
            )}
            <Numbers group={place.group} at={at} keys={place.keys} width={150} />
          </Row>
          {part === 'motor' && <CurvePaste />}
        </>
      )}
    </Box>
  );
});
