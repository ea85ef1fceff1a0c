import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { layoutQuery } from '../../api/queries';
import { Jumps } from '../../common/Jumps';
import { Failed, Loading } from '../../common/States';
import { Numbers, Row, Section } from '../../fields/Fields';
import { Said } from '../../units/Said';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { Bays } from './Bays';
import { Blocks } from './Blocks';
import { Boxes } from './Boxes';
import { BoltHoles } from './BoltHoles';
import { Cables } from './Cables';
import { PutIn } from './PutIn';
import { Mechanical } from './Mechanical';
import { ToScale } from './ToScale';
import { Underlays } from './Underlays';
import { WorkshopFiles } from './WorkshopFiles';

const measures = [
  'wheelbase_m',
  'track_front_m',
  'track_rear_m',
  'overhang_front_m',
  'overhang_rear_m',
  'body_width_m',
  'body_height_m',
  'cg_height_m',
  'front_axle_share',
  'tyre_load_index',
];

/** In their order on the page. */
const parts = [
  'To scale',
  'Every mass',
  'Room for the pack',
  'Boxes of the pack',
  'Everything else put in',
  'Cables',
  'Chain, shaft and coupler',
  'What the motor’s place changes',
  'Mounts',
  'Bolt holes it has',
  'For the workshop',
  'Photograph under the drawing',
  'The vehicle',
];

const Chosen = lazy(() => import('./Chosen'));

/** Where every mass sits, to scale, and what axles and wheels carry while it moves. */
export default function LayoutStage() {
  const { document, active, editAll } = useWorkbench();
  const layout = useQuery(layoutQuery(document));
  const [chosen, setChosen] = useState<string | null>(null);
  // What was last worked out stays in sight while what was typed since is refused.
  const [kept, setKept] = useState(layout.data);
  if (layout.data && layout.data !== kept) setKept(layout.data);
  const sheet = layout.data ?? kept;
  // The blocks say where they stand in the document; the draft keeps designs by their id.
  const placeOf = (path: string) => path.replace(/^design\./, `designs.${active.id}.`);
  const block = sheet?.blocks.find((b) => b.path === chosen);
  return (
    <Box>
      {layout.isError && <Failed error={layout.error} onRetry={() => void layout.refetch()} />}
      {layout.isPending && !sheet && <Loading what="the layout" />}
      {sheet && <Jumps to={parts} />}
      {sheet && (
        <ToScale
          sheet={sheet}
          of={document}
          answered={!layout.isPlaceholderData}
          chosen={chosen}
          onChoose={setChosen}
          onPlace={(path, places) => {
            editAll(places(placeOf(path)));
          }}
        />
      )}
      {block && sheet && (
        <Suspense>
          <Chosen key={block.path} block={block} sheet={sheet} at={placeOf(block.path)} />
        </Suspense>
      )}
      {sheet && <Blocks sheet={sheet} chosen={chosen} onChoose={setChosen} />}
      {sheet && <Bays sheet={sheet} />}
      {sheet && <Boxes sheet={sheet} />}
      <PutIn usual={sheet?.usual_things ?? []} />
      {sheet && <Cables sheet={sheet} />}
      <Mechanical />
      <BoltHoles />
      {sheet && <WorkshopFiles sheet={sheet} />}
      <Underlays />
      <Section title="The vehicle" note="what the drawing and the wheels go by">
        <Row>
          <Numbers group="Donor" at="donor" keys={measures} width={170} />
        </Row>
        {sheet && sheet.assumed.length > 0 && (
          <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
            Assumed, as nobody has said:{' '}
            {sheet.assumed.map((s, i) => (
              <span key={String(i)}>
                {i > 0 && '; '}
                <Said of={s} />
              </span>
            ))}
            .
          </Typography>
        )}
        <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
          Weigh each wheel before the road: every figure here is only as good as the places and masses behind it.
          Changes to axle loads may need approval where you live.
        </Typography>
      </Section>
    </Box>
  );
}
