import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { electricsQuery } from '../../api/queries';
import type { ElectricsLine } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { Choice, Numbers, Row, Section } from '../../fields/Fields';
import { Said } from '../../units/Said';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { GroupLines } from './GroupLines';
import { LoadTable } from './LoadTable';

const Drawings = lazy(() => import('./Drawings'));

/** Fields that change what is derived, by the group they stand under. */
const said: Record<string, string[]> = {
  traction: ['ambient_c', 'insulation_c', 'bundled'],
  precharge: ['bus_capacitance_mf', 'precharge_ohm', 'precharge_delay_s', 'precharge_load_w'],
  motor: ['phase_length_m'],
  charge: ['charge_length_m'],
  low_voltage: ['converter_power_w', 'auxiliary_ah'],
  brakes: ['reservoir_l', 'press_l', 'vacuum_kpa', 'least_help_kpa', 'pump_l_min'],
};

/** Groups with a drawing. */
const drawn = new Set(['traction', 'precharge', 'brakes']);

/** Everything between pack, motor, charger and the 12 V side: what each part has to bear, the least that does, and what was chosen. */
export default function ElectricsStage() {
  const { document, settled, computed, active, editAll, say } = useWorkbench();
  const ready = computed.estimate !== undefined;
  const query = useQuery({ ...electricsQuery(settled), enabled: ready });
  const sheet = query.data;
  // What was sized for the design before an edit is not put over that edit.
  const fresh = settled === document && !query.isPlaceholderData;
  const at = `designs.${active.id}`;
  const take = (lines: ElectricsLine[]) => {
    editAll(lines.flatMap((l) => l.takes.map((t): [string, unknown] => [`${at}.${t.path}`, t.value])));
    say('Taken into the design; undo takes it back.');
  };
  if (!ready)
    return (
      <Typography color="text.secondary">
        Cables, fuses and contactors follow from the chain: choose motor, controller and pack first.
      </Typography>
    );
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />;
  if (!sheet) return <Loading what="the electrics" />;
  const open = sheet.groups.flatMap((g) => g.lines).filter((l) => l.takes.length > 0);
  const group = (id: string) => sheet.groups.find((g) => g.id === id);
  return (
    <Box sx={{ maxWidth: 1180, opacity: query.isPlaceholderData ? 0.6 : 1 }} aria-busy={query.isPlaceholderData}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap', mb: 2 }}>
        <Typography color="text.secondary" sx={{ flex: '1 1 420px' }}>
          {sheet.assumed.length > 0 && (
            <>
              Assumed, as nobody has said:{' '}
              {sheet.assumed.map((a, i) => (
                <span key={JSON.stringify(a)}>
                  {i > 0 && '; '}
                  <Said of={a} />
                </span>
              ))}
              .
            </>
          )}{' '}
          The local code rules over every figure here.
        </Typography>
        {open.length > 0 && (
          <Button
            variant="outlined"
            disabled={!fresh}
            onClick={() => {
              take(open);
            }}
          >
            Take all that is open
          </Button>
        )}
      </Box>
      {sheet.groups.map((g) => (
        <Section key={g.id} title={g.name} note={g.caution}>
          <Box
            sx={{
              display: 'grid',
              // A drawing stands beside its lines where there is room.
              gridTemplateColumns: { xs: '1fr', lg: drawn.has(g.id) ? 'minmax(0, 1fr) 430px' : '1fr' },
              columnGap: 4,
            }}
          >
            <Box>
              <GroupLines
                group={g}
                fresh={fresh}
                onTake={(l) => {
                  take([l]);
                }}
              />
              {g.id === 'traction' && (
                <Box sx={{ mt: 2 }}>
                  <Row>
                    <Numbers
                      group="Wiring"
                      at={`${at}.wiring`}
                      keys={['fuse_a', 'fuse_voltage_v', 'cable_section_mm2', 'cable_length_m', 'cable_current_a']}
                      width={150}
                    />
                    <Choice
                      at={`${at}.electrics.series`}
                      label="Cables are bought in"
                      fallback="metric"
                      options={[
                        ['metric', 'mm², IEC 60228'],
                        ['awg', 'AWG, ASTM B258'],
                      ]}
                    />
                  </Row>
                </Box>
              )}
              {said[g.id] && (
                <Box sx={{ mt: 2 }}>
                  <Row>
                    <Numbers group="Electrics" at={`${at}.electrics`} keys={said[g.id] ?? []} width={170} />
                  </Row>
                </Box>
              )}
            </Box>
            <Suspense fallback={drawn.has(g.id) ? <Loading what="the drawing" /> : null}>
              <Drawings of={g.id} sheet={sheet} />
            </Suspense>
          </Box>
          {g.id === 'low_voltage' && <LoadTable situations={sheet.situations} />}
        </Section>
      ))}
      {!group('brakes') && (
        <Section title="Brakes">
          <BrakeChoice at={at} />
        </Section>
      )}
      {group('brakes') && (
        <Box sx={{ mt: 1 }}>
          <BrakeChoice at={at} />
        </Box>
      )}
    </Box>
  );
}

function BrakeChoice({ at }: { at: string }) {
  return (
    <Choice
      at={`${at}.electrics.brakes`}
      label="Brakes are helped"
      fallback="none"
      width={240}
      options={[
        ['none', 'not, or by nothing the engine drove'],
        ['vacuum', 'by vacuum, from a pump'],
        ['electric', 'by an electric booster'],
      ]}
    />
  );
}
