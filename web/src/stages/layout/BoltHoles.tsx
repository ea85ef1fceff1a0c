import { Box, Button, Typography } from '@mui/material';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { boltFields } from './words';

/** Holes that something was bolted to, as points; what stands on them leaves no trace. */
export function BoltHoles() {
  const { draft, edit } = useWorkbench();
  const patterns = draft.donor.bolt_patterns ?? [];
  return (
    <Section
      title="Bolt holes it has"
      note="where engine, tank, seats and brackets were held"
      action={
        <Button
          disabled={patterns.length >= 40}
          onClick={() => {
            const name = `Holes ${String(patterns.length + 1)}`;
            edit('donor.bolt_patterns', [...patterns, { name, thread: 'M10' }]);
          }}
        >
          Add holes
        </Button>
      }
    >
      {patterns.length === 0 && (
        <Typography color="text.secondary">
          Measured before anything is welded, they carry brackets without a new hole, and the vehicle can go back to
          what it was.
        </Typography>
      )}
      {patterns.map((p, i) => {
        const at = `donor.bolt_patterns.${String(i)}`;
        const points = p.points ?? [];
        const last = points.at(-1);
        return (
          <Box key={String(i)} sx={{ py: 1 }} data-testid={`bolt-holes-${String(i)}`}>
            <Row>
              <Words at={`${at}.name`} label="Held there" width={190} />
              <Choice at={`${at}.thread`} label="Thread" width={80} fallback="M8" options={boltFields.threads} />
              <Button
                disabled={points.length >= 60}
                onClick={() => {
                  edit(`${at}.points`, [...points, last ? { ...last } : { behind_m: 0, up_m: 0.3 }]);
                }}
              >
                Add a point
              </Button>
              <RemoveButton
                what={p.name}
                onClick={() => {
                  edit(at, undefined);
                }}
              />
            </Row>
            {points.map((_, j) => (
              <Box key={String(j)} sx={{ mt: 1, pl: 2 }}>
                <Row>
                  <Numbers
                    group="BoltPoint"
                    at={`${at}.points.${String(j)}`}
                    keys={['behind_m', 'right_m', 'up_m']}
                    width={150}
                  />
                  <RemoveButton
                    what={`point ${String(j + 1)} of ${p.name}`}
                    onClick={() => {
                      edit(`${at}.points.${String(j)}`, undefined);
                    }}
                  />
                </Row>
              </Box>
            ))}
          </Box>
        );
      })}
    </Section>
  );
}
