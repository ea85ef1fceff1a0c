import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import type { BayView, LayoutSheet } from '../../api/types';
import { Numbers, Row, Section, Words } from '../../fields/Fields';
import { PlaceField } from '../../fields/PlaceField';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { BayOffers } from './BayOffers';
import { BayPicture } from './BayPicture';
import { Splits } from './Splits';
import { useSystemWords } from './words';

/** Room for the pack: bays with what fits into each, and the pack spread over them. */
export function Bays({ sheet }: { sheet: LayoutSheet }) {
  const { document, edit } = useWorkbench();
  const bays = document.donor.bays ?? [];
  const add = (bay: object) => {
    edit('donor.bays', [...bays, { clearance_m: 0.01, ...bay }]);
  };
  // Where something came out there is room now.
  const left = (document.donor.removed ?? []).filter((r) => !bays.some((b) => b.name === `where ${r.name} was`));
  return (
    <Section
      title="Room for the pack"
      note="measure between what stays in; the clearance is kept free on every side"
      action={
        <Button
          disabled={bays.length >= 12}
          onClick={() => {
            add({ name: `Bay ${String(bays.length + 1)}` });
          }}
        >
          Add a bay
        </Button>
      }
    >
      {bays.length === 0 && (
        <Typography color="text.secondary">
          A bay is a box of room: the engine bay, the place of the tank, under the load floor. Measured, it tells which
          modules fit and how many.
        </Typography>
      )}
      {left.length > 0 && bays.length < 12 && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 0.5, ml: -0.75, mb: 1 }}>
          {left.map((r, i) => (
            <Button
              key={`${String(i)} ${r.name}`}
              sx={{ fontWeight: 400 }}
              onClick={() => {
                // Its own size is not that of the room it leaves.
                const { along, right_m, up_m } = r.at ?? {};
                add({ name: `where ${r.name} was`, at: { along, right_m, up_m } });
              }}
            >
              + where {r.name} was
            </Button>
          ))}
        </Box>
      )}
      {sheet.bays.map((bay, i) =>
        i < bays.length ? <OneBay key={String(i)} bay={bay} at={`donor.bays.${String(i)}`} index={i} /> : null,
      )}
      {bays.length > 0 && sheet.bays.length > 0 && <Splits sheet={sheet} />}
    </Section>
  );
}

function OneBay({ bay, at, index }: { bay: BayView; at: string; index: number }) {
  const { edit, document } = useWorkbench();
  const [open, setOpen] = useState(false);
  const words = useSystemWords();
  const { fit } = bay;
  const module = document.design.pack?.module.name;
  return (
    <Box
      data-testid={`bay-${String(index)}`}
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) 240px' },
        columnGap: 3,
        rowGap: 1,
        py: 1.5,
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Box>
        <Row>
          <Words at={`${at}.name`} label="Bay" width={190} />
          <Numbers group="Placement" at={`${at}.at`} keys={['length_m', 'width_m', 'height_m']} width={84} />
          <Numbers group="Bay" at={at} keys={['clearance_m', 'mass_limit_kg']} width={92} />
        </Row>
        <Box sx={{ mt: 2 }}>
          <Row>
            <PlaceField at={`${at}.at.along`} label="Its middle" width={150} />
            <Numbers group="Placement" at={`${at}.at`} keys={['right_m', 'up_m']} width={160} />
          </Row>
        </Box>
        <Typography sx={{ mt: 1 }} role="status">
          {!bay.size_m && <>Length, width and height tell what fits.</>}
          {bay.size_m && !fit && <>Choose a pack on the Chain stage, or look at what fits.</>}
          {fit && (
            <>
              <b>
                {fit.modules} {fit.modules === 1 ? 'module' : 'modules'}
              </b>{' '}
              of {module} fit{fit.modules === 1 ? 's' : ''}
              {fit.layers.length > 0 && <>, {layersOf(fit.layers)}</>}
              {fit.modules < fit.by_room && <>; there is room for {fit.by_room}, but not for their mass</>}
              {fit.modules === fit.by_room && fit.at_most > fit.by_room && (
                <>; no arrangement in layers holds more than {fit.at_most}</>
              )}
              {!fit.stated && <>. The size of a module is guessed from its mass</>}.
            </>
          )}
          {bay.holds > 0 && (
            <>
              {' '}
              {bay.holds} lie here, {words.kg(bay.holds_kg)}.
            </>
          )}
        </Typography>
        <Box sx={{ ml: -0.75 }}>
          <Button
            disabled={!bay.size_m}
            aria-expanded={open}
            onClick={() => {
              setOpen(!open);
            }}
          >
            {open ? 'Hide what fits' : 'What of the library fits'}
          </Button>
          <RemoveButton
            what={bay.name}
            onClick={() => {
              edit(at, undefined);
            }}
          />
        </Box>
      </Box>
      <BayPicture bay={bay} />
      {open && bay.size_m && (
        <Box sx={{ gridColumn: '1 / -1' }}>
          <BayOffers index={index} name={bay.name} />
        </Box>
      )}
    </Box>
  );
}

/** "2 layers of 12", "layers of 12, 12 and 4". */
export function layersOf(layers: number[]): string {
  const [first, ...others] = layers;
  if (first === undefined) return '';
  if (others.length === 0) return 'in one layer';
  if (others.every((n) => n === first)) return `${String(layers.length)} layers of ${String(first)}`;
  return `layers of ${layers.slice(0, -1).join(', ')} and ${String(layers.at(-1))}`;
}
