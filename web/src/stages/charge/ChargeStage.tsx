import { Box, Button, Typography } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { Section } from '../../fields/Fields';
import { Ratings } from '../../parts/Ratings';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { SocketsSection } from './SocketsSection';
import { WeekSection } from './WeekSection';
import { YearsSection } from './YearsSection';

const PartPicker = lazy(() => import('../../parts/PartPicker'));

export default function ChargeStage() {
  const { document } = useWorkbench();
  const { computed } = useResults();
  const system = useUnits();
  const [picking, setPicking] = useState(false);
  const charger = document.design.charger;
  const pack = computed.estimate?.pack;
  const fixed = charger && charger.output_min_v === charger.output_max_v;
  return (
    <Box sx={{ maxWidth: 1180 }}>
      <WeekSection />
      <Section
        title="Charger"
        action={
          <Button
            variant="outlined"
            onClick={() => {
              setPicking(true);
            }}
          >
            {charger ? 'Change the charger' : 'Choose a charger'}
          </Button>
        }
      >
        {charger ? (
          <Typography>
            <b>{charger.name}</b>: {showText(charger.output_power_w, 'W', system, 3, 'electric_power')}, up to{' '}
            {showText(charger.output_current_a, 'A', system)}, {fixed ? 'ends at ' : 'set from '}
            {showText(charger.output_min_v, 'V', system, 4)}
            {!fixed && ` to ${showText(charger.output_max_v, 'V', system, 4)}`}. The pack is full at{' '}
            {pack ? showText(pack.full_v, 'V', system, 4) : '–'}.
          </Typography>
        ) : (
          <Typography color="text.secondary">
            A charger must end at the pack&rsquo;s full-charge voltage, and give back a day&rsquo;s trips in the hours
            at the socket.
          </Typography>
        )}
        {charger && <Ratings part="charger" />}
      </Section>
      <SocketsSection />
      <YearsSection />
      <Typography variant="caption" color="text.secondary" component="p" sx={{ maxWidth: 640 }}>
        Never leave a new pack charging unattended until it has proved itself. A permanent charging point is the work of
        a licensed electrician.
      </Typography>
      {picking && (
        <Suspense>
          <PartPicker
            kind="charger"
            onClose={() => {
              setPicking(false);
            }}
          />
        </Suspense>
      )}
    </Box>
  );
}
