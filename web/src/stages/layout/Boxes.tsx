import { Box, Button, Typography } from '@mui/material';
import type { LayoutSheet } from '../../api/types';
import { Numbers, Row, Section, Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';

/** The pack over several boxes; what is in no further one stays in the main one. */
export function Boxes({ sheet }: { sheet: LayoutSheet }) {
  const { document, active, edit } = useWorkbench();
  const boxes = document.design.layout?.boxes ?? [];
  const pack = document.design.pack;
  if (!pack) return null;
  const at = `designs.${active.id}.layout.boxes`;
  const main = sheet.blocks.find((b) => b.path === 'design.layout.pack')?.modules ?? 0;
  const boxed = sheet.blocks.filter((b) => b.path.startsWith('design.layout.boxes.'));
  const held = boxed.reduce((sum, b) => sum + (b.modules ?? 0), main);
  const asked = boxes.reduce((sum, b) => sum + b.modules, 0);
  const cut = boxed.filter((b) => b.cuts_string);
  return (
    <Section
      title="Boxes of the pack"
      note={`${String(held)} modules, ${String(main)} of them in the main box`}
      action={
        <Button
          onClick={() => {
            edit(at, [...boxes, { name: `Box ${String(boxes.length + 2)}`, modules: Math.floor(main / 2) }]);
          }}
        >
          Add a box
        </Button>
      }
    >
      {boxes.length === 0 && (
        <Typography color="text.secondary">
          All in one. A second box, in front or under the floor, shifts the balance.
        </Typography>
      )}
      {boxes.map((b, i) => (
        <Box key={String(i)} sx={{ py: 0.5 }}>
          <Row>
            <Words at={`${at}.${String(i)}.name`} label="Box" />
            <Numbers group="PackBox" at={`${at}.${String(i)}`} keys={['modules']} width={130} />
            <RemoveButton
              what={b.name}
              onClick={() => {
                edit(`${at}.${String(i)}`, undefined);
              }}
            />
          </Row>
        </Box>
      ))}
      {asked > held && (
        <Typography variant="body2" color="warning.main" role="status">
          The boxes are to hold {asked} modules and the pack has {held}: they are filled in turn, the last is left
          short.
        </Typography>
      )}
      {cut.length > 0 && asked <= held && (
        <Typography variant="body2" sx={{ mt: 0.5 }} role="status">
          {cut.map((b) => b.name).join(', ')}: not whole strings of {pack.modules_in_series}. The cable between the
          boxes then sits in the middle of a string, at pack current, and each box needs its own fuse and disconnect.
        </Typography>
      )}
    </Section>
  );
}
