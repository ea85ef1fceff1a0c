import { Box, Button, Typography } from '@mui/material';
import { Numbers, Row, Section } from '../../fields/Fields';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { Choices, InsulationTest } from './Settings';

/** Why nothing newer is told; the figures below are those before. */
export function Refused({ lines }: { lines: string[] }) {
  return (
    <Box role="alert" sx={{ borderLeft: '3px solid', borderColor: 'error.main', pl: 2, mb: 2 }}>
      <Typography sx={{ color: 'error.main', fontWeight: 650 }}>▲ Not sized: the figures are those before.</Typography>
      {lines.map((line) => (
        <Typography key={line} variant="body2">
          {line}
        </Typography>
      ))}
    </Box>
  );
}

/** Everything that is said of the electrics, to be mended where nothing could be sized yet. */
export function Mend({ at, lines, keys }: { at: string; lines: string[]; keys: string[] }) {
  const { document, edit } = useWorkbench();
  return (
    <Box sx={{ maxWidth: 1180 }}>
      <Refused lines={lines} />
      <Section title="What is said of the electrics">
        <Choices at={at} />
        <Row>
          <Numbers
            group="Wiring"
            at={`${at}.wiring`}
            keys={['fuse_a', 'fuse_voltage_v', 'cable_section_mm2', 'cable_length_m', 'cable_current_a']}
            width={170}
          />
          <Numbers group="Electrics" at={`${at}.electrics`} keys={keys} width={170} />
        </Row>
        <InsulationTest at={at} />
        {document.design.electrics?.fitted != null && (
          <Button
            onClick={() => {
              edit(`${at}.electrics.fitted`, undefined);
            }}
          >
            Take all chosen parts out
          </Button>
        )}
      </Section>
    </Box>
  );
}
