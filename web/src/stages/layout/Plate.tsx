import { Box, Button, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import type { Mechanics, MechanicsSheet } from '../../api/types';
import { Choice, Numbers, Row, Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { PlateDrawing } from './PlateDrawing';
import { WithDrawing } from './WithDrawing';
import { WorkshopFile } from './WorkshopFiles';

/** Most holes of the gearbox. */
const MOST = 40;

/** The plate between motor and gearbox: its holes, drawn as it is cut, and handed over as a file. */
export function Plate({
  plate,
  picture,
  lines,
}: {
  plate: NonNullable<Mechanics['plate']>;
  picture: MechanicsSheet['plate'];
  lines: ReactNode;
}) {
  const { active, edit } = useWorkbench();
  const at = `designs.${active.id}.mechanics.plate`;
  const gearbox = plate.gearbox ?? [];
  return (
    <WithDrawing
      label="Adapter plate"
      drawing={
        <Box>
          {picture && <PlateDrawing picture={picture} />}
          <WorkshopFile of="plate" form="dxf" label="Plate as DXF" />
          <WorkshopFile of="plate" form="svg" label="Plate as SVG" />
        </Box>
      }
    >
      <Row>
        <Numbers group="AdapterPlate" at={at} keys={['thickness_mm', 'bore_mm']} width={170} />
        <Choice
          at={`${at}.material`}
          label="Cut from"
          width={120}
          fallback="aluminium"
          options={[
            ['aluminium', 'aluminium'],
            ['steel', 'steel'],
          ]}
        />
        <Numbers group="AdapterPlate" at={at} keys={['margin_mm', 'run_out_mm']} width={190} />
        <RemoveButton
          what="the adapter plate"
          onClick={() => {
            edit(at, undefined);
          }}
        />
      </Row>
      <Box sx={{ mt: 1.5 }}>
        <Row>
          <Numbers
            group="HoleCircle"
            at={`${at}.motor`}
            keys={['holes', 'radius_mm', 'hole_mm', 'first_deg']}
            width={140}
          />
        </Row>
      </Box>
      {gearbox.map((hole, i) => (
        <Box key={String(i)} sx={{ mt: 1.5 }}>
          <Row>
            <Words at={`${at}.gearbox.${String(i)}.name`} label="Gearbox hole" width={120} />
            <Numbers
              group="PlateHole"
              at={`${at}.gearbox.${String(i)}`}
              keys={['right_mm', 'up_mm', 'hole_mm']}
              width={126}
            />
            <RemoveButton
              what={`hole ${hole.name}`}
              onClick={() => {
                edit(`${at}.gearbox.${String(i)}`, undefined);
              }}
            />
          </Row>
        </Box>
      ))}
      <Button
        sx={{ mt: 1 }}
        disabled={gearbox.length >= MOST}
        onClick={() => {
          const last = gearbox.at(-1);
          const next = { right_mm: 0, up_mm: 120, hole_mm: 10.5, ...last, name: String(gearbox.length + 1) };
          edit(`${at}.gearbox`, [...gearbox, next]);
        }}
      >
        Add a hole of the gearbox
      </Button>
      {lines}
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
        Seen from the motor, from the axis of the shaft. Rub the bell housing through on card and lay the print over it
        before anything is cut.
      </Typography>
    </WithDrawing>
  );
}
