import { Box, Button, Typography } from '@mui/material';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { PlaceField } from '../../fields/PlaceField';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';

/** Everything put in that is none of the chain: brackets, pumps, heaters, a battery for 12 V. */
export function PutIn() {
  const { document, active, edit } = useWorkbench();
  const added = document.design.added ?? [];
  const at = `designs.${active.id}.added`;
  return (
    <Section
      title="Everything else put in"
      note="counts in mass, balance and money"
      action={
        <Button
          disabled={added.length >= 200}
          onClick={() => {
            edit(at, [...added, { name: 'Item', mass_kg: 5, price: 0 }]);
          }}
        >
          Put something in
        </Button>
      }
    >
      {added.length === 0 && (
        <Typography color="text.secondary">
          Adapter plate, brackets, pumps, heater, 12 V battery: what is forgotten here is found on the scales.
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
