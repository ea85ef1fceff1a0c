import { Box, Button, MenuItem, TextField } from '@mui/material';
import { useState } from 'react';
import type { BlockView, LayoutSheet } from '../../api/types';
import { Numbers, Row, Section } from '../../fields/Fields';
import { PlaceField } from '../../fields/PlaceField';
import { get } from '../../workbench/merge';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { aligned, placesBeside, type Side } from './snap';

const sides: [Side, string][] = [
  ['front', 'fronts'],
  ['along', 'middles along'],
  ['rear', 'rears'],
  ['left', 'left sides'],
  ['across', 'middles across'],
  ['right', 'right sides'],
  ['bottom', 'undersides'],
  ['up', 'middles in height'],
  ['top', 'tops'],
];

/** Place and size of one block, typed, or lined up with something beside it. */
export default function Chosen({ block, sheet, at }: { block: BlockView; sheet: LayoutSheet; at: string }) {
  const { draft, edit } = useWorkbench();
  const [beside, setBeside] = useState('');
  const right = (get(draft, `${at}.right_m`) as number | undefined) ?? 0;
  const places = placesBeside(sheet, block.path);
  const to = beside === '' ? undefined : places[Number(beside)];
  return (
    <Section
      title={block.name}
      note="its centre and size"
      action={
        <Box>
          <Button
            disabled={right === 0}
            onClick={() => {
              edit(`${at}.right_m`, -right);
            }}
          >
            To the other side
          </Button>
          <Button
            disabled={right === 0}
            onClick={() => {
              edit(`${at}.right_m`, 0);
            }}
          >
            To the middle
          </Button>
          <Button
            disabled={get(draft, at) == null}
            onClick={() => {
              edit(at, undefined);
            }}
          >
            As usual for the kind
          </Button>
        </Box>
      }
    >
      <Row>
        <PlaceField at={`${at}.along`} label="Along the vehicle" />
        <Numbers group="Placement" at={at} keys={['right_m', 'up_m', 'length_m', 'width_m', 'height_m']} width={150} />
      </Row>
      {places.length > 0 && (
        <Box sx={{ mt: 2, display: 'flex', flexWrap: 'wrap', alignItems: 'end', columnGap: 0.5 }}>
          <TextField
            select
            label="Line it up with"
            value={to ? beside : ''}
            sx={{ width: 220, mr: 1 }}
            slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
            onChange={(e) => {
              setBeside(e.target.value);
            }}
          >
            <MenuItem value="" dense>
              nothing
            </MenuItem>
            {places.map((p, i) => (
              <MenuItem key={`${String(i)} ${p.name}`} value={String(i)} dense>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
          {to &&
            sides.map(([side, word]) => (
              <Button
                key={side}
                onClick={() => {
                  const { key, value } = aligned(block, to, side);
                  const rounded = Number(value.toFixed(3));
                  if (key === 'along_m') edit(`${at}.along`, { behind_front_axle_m: rounded });
                  else edit(`${at}.${key}`, key === 'up_m' ? Math.max(0, rounded) : rounded);
                }}
              >
                {word}
              </Button>
            ))}
        </Box>
      )}
    </Section>
  );
}
