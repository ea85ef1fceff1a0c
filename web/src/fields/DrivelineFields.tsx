import { Box, Button, Typography } from '@mui/material';
import type { Driveline } from '../api/types';
import { get } from '../workbench/merge';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { Choice, Numbers, Row } from './Fields';
import { RemoveButton } from './RemoveButton';

const stageKinds: [string, string][] = [
  ['final_drive', 'final drive'],
  ['reduction', 'reduction'],
  ['transfer_box', 'transfer box'],
  ['chain', 'chain'],
  ['belt', 'toothed belt'],
];

const ordinal = (n: number) => `${String(n)}${n === 1 ? 'st' : n === 2 ? 'nd' : n === 3 ? 'rd' : 'th'}`;

/** Gears and fixed stages at a place of the draft. */
export function DrivelineFields({ at }: { at: string }) {
  const { draft, edit } = useWorkbench();
  const driveline = (get(draft, at) ?? {}) as Driveline;
  const gears = driveline.gears ?? [];
  const fixed = driveline.stages ?? [];
  const ranges = driveline.ranges ?? [];
  return (
    <Box>
      <Row>
        {gears.map((_, i) => (
          <Box key={String(i)} sx={{ display: 'flex', alignItems: 'flex-start' }}>
            <Box>
              <Typography variant="caption" color="text.secondary">
                {ordinal(i + 1)} gear
              </Typography>
              <Row>
                <Numbers group="Gear" at={`${at}.gears.${String(i)}`} keys={['ratio']} width={90} />
              </Row>
            </Box>
            <RemoveButton
              what={`${ordinal(i + 1)} gear`}
              onClick={() => {
                edit(`${at}.gears.${String(i)}`, undefined);
              }}
            />
          </Box>
        ))}
        <Button
          sx={{ mt: 3 }}
          onClick={() => {
            edit(`${at}.gears`, [...gears, { ratio: Number(((gears.at(-1)?.ratio ?? 5) * 0.7).toFixed(2)) }]);
          }}
        >
          Add a gear
        </Button>
      </Row>
      {gears.length === 0 && (
        <Typography variant="caption" color="text.secondary">
          No gearbox: one fixed ratio through the stages below.
        </Typography>
      )}
      {fixed.map((_, i) => (
        <Box key={String(i)} sx={{ mt: 1.5 }}>
          <Row>
            <Choice at={`${at}.stages.${String(i)}.kind`} label="Stage" options={stageKinds} />
            <Numbers group="Stage" at={`${at}.stages.${String(i)}`} keys={['ratio', 'efficiency']} width={160} />
            <RemoveButton
              what={`stage ${String(i + 1)}`}
              onClick={() => {
                edit(`${at}.stages.${String(i)}`, undefined);
              }}
            />
          </Row>
        </Box>
      ))}
      <Button
        onClick={() => {
          edit(`${at}.stages`, [...fixed, { kind: 'reduction', ratio: 2 }]);
        }}
      >
        Add a stage
      </Button>
      <Button
        onClick={() => {
          edit(`${at}.ranges`, ranges.length === 0 ? [{ ratio: 1 }, { ratio: 2.3 }] : [...ranges, { ratio: 1 }]);
        }}
      >
        {ranges.length === 0 ? 'Add a transfer box with ranges' : 'Add a range'}
      </Button>
      {ranges.length > 0 && (
        <Row>
          {ranges.map((_, i) => (
            <Box key={String(i)} sx={{ display: 'flex', alignItems: 'flex-start' }}>
              <Box>
                <Typography variant="caption" color="text.secondary">
                  {ordinal(i + 1)} range
                </Typography>
                <Row>
                  <Numbers group="Gear" at={`${at}.ranges.${String(i)}`} keys={['ratio']} width={90} />
                </Row>
              </Box>
              <RemoveButton
                what={`${ordinal(i + 1)} range`}
                onClick={() => {
                  edit(`${at}.ranges.${String(i)}`, undefined);
                }}
              />
            </Box>
          ))}
          <Typography variant="caption" color="text.secondary" sx={{ pt: 3 }}>
            changed only at a standstill
          </Typography>
        </Row>
      )}
      <Box sx={{ mt: 1 }}>
        <Row>
          <Numbers group="Driveline" at={at} keys={['shift_s', 'input_torque_limit_nm']} width={200} />
          <Typography variant="caption" color="text.secondary" sx={{ pt: 2.5 }}>
            a change with the clutch takes about 0.6 s, without one 1.2 s
          </Typography>
        </Row>
      </Box>
    </Box>
  );
}
