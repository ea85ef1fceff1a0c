import { Box, Button, Menu, MenuItem, Typography } from '@mui/material';
import { useState } from 'react';
import type { AddedItem } from '../../api/types';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { PlaceField } from '../../fields/PlaceField';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { useSystemWords } from './words';

/** Everything put in that is none of the chain: brackets, pumps, heaters, a battery for 12 V. */
export function PutIn({ usual }: { usual: AddedItem[] }) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const words = useSystemWords();
  const { document, active, edit } = useWorkbench();
  const added = document.design.added ?? [];
  const at = `designs.${active.id}.added`;
  const put = (item: AddedItem) => {
    setMenu(null);
    edit(at, [...added, item]);
  };
  return (
    <Section
      title="Everything else put in"
      note="counts in mass, balance and money"
      action={
        <>
          <Button
            disabled={added.length >= 200}
            aria-haspopup="menu"
            aria-expanded={menu != null}
            onClick={(e) => {
              setMenu(e.currentTarget);
            }}
          >
            Put something in
          </Button>
          <Menu
            anchorEl={menu}
            open={menu != null}
            onClose={() => {
              setMenu(null);
            }}
          >
            {usual.map((thing) => (
              <MenuItem
                key={thing.name}
                dense
                onClick={() => {
                  put(thing);
                }}
              >
                {thing.name}, {words.kg(thing.mass_kg)}
              </MenuItem>
            ))}
            <MenuItem
              dense
              onClick={() => {
                put({ name: 'Item', mass_kg: 5, price: 0 });
              }}
            >
              Something else
            </MenuItem>
          </Menu>
        </>
      }
    >
      {added.length === 0 && (
        <Typography color="text.secondary">
          Adapter plate, brackets, pumps, 12 V battery: what is forgotten here is found on the scales. The donor’s own
          battery counts in its mass: enter it as taken out where it goes elsewhere.
        </Typography>
      )}
      {added.map((a, i) => {
        const own = `${at}.${String(i)}`;
        return (
          <Box key={String(i)} sx={{ py: 0.75 }} data-testid={`put-in-${String(i)}`}>
            <Row>
              <Words at={`${own}.name`} label="What" width={230} />
              <Numbers group="AddedItem" at={own} keys={['mass_kg', 'price']} width={110} />
              <PlaceField at={`${own}.at.along`} label="It sits" width={150} />
              <Choice
                at={`${own}.beware`}
                label="Cables keep away"
                width={150}
                fallback=""
                options={[
                  ['', 'no reason'],
                  ['hot', 'it gets hot'],
                  ['fuel', 'it holds fuel'],
                ]}
                onChange={(value) => {
                  edit(`${own}.beware`, value === '' ? undefined : value);
                }}
              />
              <RemoveButton
                what={a.name}
                onClick={() => {
                  edit(own, undefined);
                }}
              />
            </Row>
          </Box>
        );
      })}
    </Section>
  );
}
