import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { drivesQuery } from '../../api/queries';
import type { DriveAnswer, Trip } from '../../api/types';
import { Failed } from '../../common/States';
import { Numbers, Row, Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { Said } from '../../units/Said';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';

const colours: Record<DriveAnswer['verdict'], string> = {
  agrees: 'success.main',
  above: 'warning.main',
  below: 'info.main',
  cannot_tell: 'text.secondary',
};

/** Causes told at once; the less likely ones are one step away. */
const FIRST = 3;

/** What one drive says of the design: agrees, or by how much not, and what would explain it. */
function Answer({ answer }: { answer: DriveAnswer }) {
  return (
    <Box sx={{ pl: 2, pb: 1, maxWidth: 760 }}>
      <Typography variant="body2" sx={{ color: colours[answer.verdict] }}>
        <Said of={answer.says} />
      </Typography>
      {answer.causes.length > 0 && (
        <>
          <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
            Any one of these alone would explain it, the likeliest first:
          </Typography>
          <Box component="ol" sx={{ m: 0, pl: 2.5, typography: 'body2' }}>
            {answer.causes.map((c, i) => (
              <Box component="li" key={c.cause} sx={{ color: i < FIRST ? 'text.primary' : 'text.secondary' }}>
                <Said of={c.says} />
              </Box>
            ))}
          </Box>
        </>
      )}
      {answer.not_alone.length > 0 && (
        <Typography variant="caption" color="text.secondary">
          Not alone, however far: {answer.not_alone.join(', ')}.
        </Typography>
      )}
    </Box>
  );
}

/** Drives of a trip that were measured; each is answered as soon as it says what it took. */
export function MeasuredDrives({ trip, index }: { trip: Trip; index: number }) {
  const { document, edit } = useWorkbench();
  const { computed } = useResults();
  const drives = trip.drives ?? [];
  const at = `brief.trips.${String(index)}.drives`;
  const length = computed.estimate?.trips.find((t) => t.trip === trip.id)?.distance_km;
  const answers = useQuery({
    ...drivesQuery(document, trip.id),
    enabled: drives.length > 0 && computed.estimate !== undefined,
  });
  return (
    <Box sx={{ mt: 0.5 }} role="group" aria-label={`Measured drives of ${trip.name}`}>
      {drives.map((drive, i) => (
        // A drive has no identity of its own; its place is its key.
        <Box key={i} sx={{ borderLeft: '2px solid', borderColor: 'divider', pl: 2, mb: 1 }}>
          <Row>
            <Words at={`${at}.${String(i)}.name`} label="When, by whom" width={170} />
            <Numbers
              group="MeasuredDrive"
              at={`${at}.${String(i)}`}
              keys={['distance_km', 'charge_used', 'energy_kwh', 'temperature_c', 'payload_kg', 'hvac_w']}
              width={130}
            />
            <RemoveButton
              what={`the drive ${drive.name ?? String(i + 1)}`}
              onClick={() => {
                edit(`${at}.${String(i)}`, undefined);
              }}
            />
          </Row>
          {answers.data?.[i] && <Answer answer={answers.data[i]} />}
        </Box>
      ))}
      {answers.isError && <Failed error={answers.error} onRetry={() => void answers.refetch()} />}
      {drives.length > 0 && !computed.estimate && (
        <Typography variant="caption" color="text.secondary" component="p">
          It is answered once motor, controller and pack are chosen.
        </Typography>
      )}
      <Button
        onClick={() => {
          edit(at, [...drives, { distance_km: Math.max(1, Math.round(length ?? 10)) }]);
        }}
      >
        Add a measured drive
      </Button>
    </Box>
  );
}
