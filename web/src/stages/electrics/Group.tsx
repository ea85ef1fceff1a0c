import { Box } from '@mui/material';
import { lazy, memo, Suspense } from 'react';
import type { ElectricsGroup, ElectricsLine, ElectricsSheet } from '../../api/types';
import { Loading } from '../../common/States';
import { Numbers, Row, Section } from '../../fields/Fields';
import { GroupLines } from '../../parts/GroupLines';
import { wiringKeys } from '../../parts/wiring';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { LoadTable } from './LoadTable';
import { InsulationTest } from './Settings';

const Drawings = lazy(() => import('./Drawings'));

/** Fields that change what is derived, by the group they stand under. */
export const said: Record<string, string[]> = {
  traction: ['ambient_c', 'insulation_c', 'bundled'],
  precharge: ['bus_capacitance_mf', 'precharge_ohm', 'precharge_delay_s', 'precharge_load_w'],
  motor: ['phase_length_m', 'meshes'],
  charge: ['charge_length_m'],
  low_voltage: ['converter_power_w', 'auxiliary_ah'],
  heat: ['heating_w'],
  brakes: ['reservoir_l', 'press_l', 'vacuum_kpa', 'least_help_kpa', 'pump_l_min'],
  safety: ['hand_checked_every'],
};

const alone = { display: 'grid', gridTemplateColumns: '1fr', columnGap: 4 };
const besideDrawing = { ...alone, gridTemplateColumns: { xs: '1fr', lg: 'minmax(0, 1fr) 430px' } };

type Drawn = Pick<ElectricsSheet, 'coordination' | 'precharge' | 'presses_kpa'>;

/** What each group with a drawing shows there; it stands beside the lines where there is room. */
const drawn: Record<string, (sheet: ElectricsSheet) => Partial<Drawn>> = {
  traction: ({ coordination }) => ({ coordination }),
  precharge: ({ precharge }) => ({ precharge }),
  brakes: ({ presses_kpa }) => ({ presses_kpa }),
};

interface Props {
  at: string;
  onTake: (line: ElectricsLine) => void;
}

/** A group of lines of the sheet. */
export function Group({ group, sheet, ...rest }: Props & { group: ElectricsGroup; sheet: ElectricsSheet }) {
  return (
    <Lines
      group={group}
      {...drawn[group.id]?.(sheet)}
      situations={group.id === 'low_voltage' ? sheet.situations : undefined}
      {...rest}
    />
  );
}

interface LinesProps extends Props, Partial<Drawn> {
  group: ElectricsGroup;
  situations: ElectricsSheet['situations'] | undefined;
}

/** The lines with the fields that change them and what is drawn of them; painted anew only where one of them changed. */
const Lines = memo(function Lines({ group: g, at, onTake, situations, ...drawing }: LinesProps) {
  const fields = said[g.id];
  return (
    <Section title={g.name} note={g.caution}>
      <Box sx={g.id in drawn ? besideDrawing : alone}>
        <div>
          <GroupLines group={g} onTake={onTake} />
          {g.id === 'traction' && <WiringFields at={at} />}
          {fields && (
            <Box sx={{ mt: 2 }}>
              <Row>
                <Numbers group="Electrics" at={`${at}.electrics`} keys={fields} width={g.id === 'safety' ? 220 : 170} />
              </Row>
            </Box>
          )}
        </div>
        {g.id in drawn && (
          <Suspense fallback={<Loading what="the drawing" />}>
            <Drawings {...drawing} />
          </Suspense>
        )}
      </Box>
      {g.id === 'safety' && <InsulationTest at={at} />}
      {situations && <LoadTable situations={situations} />}
    </Section>
  );
});

function WiringFields({ at }: { at: string }) {
  const { document } = useWorkbench();
  return (
    <Box sx={{ mt: 2 }}>
      <Row>
        <Numbers group="Wiring" at={`${at}.wiring`} keys={wiringKeys(document.design)} width={150} />
      </Row>
    </Box>
  );
}
