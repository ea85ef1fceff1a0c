import { Box, Button, FormControlLabel, Switch, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { layoutQuery } from '../../api/queries';
import type { BlockView, Document, LayoutSheet } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { Numbers, Row, Section } from '../../fields/Fields';
import { PlaceField } from '../../fields/PlaceField';
import { Said } from '../../units/Said';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { during, type Move, nudge, summed, written } from './account';
import { Blocks } from './Blocks';
import { Boxes } from './Boxes';
import { Cables } from './Cables';
import { Drawing } from './Drawing';
import { Loads } from './Loads';

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

/** Where every mass sits, to scale, and what axles and wheels carry while it moves. */
export default function LayoutStage() {
  const { document, active, edit, editAll } = useWorkbench();
  const system = useUnits();
  const layout = useQuery(layoutQuery(document));
  const [chosen, setChosen] = useState<string | null>(null);
  const [pulled, setMove] = useState<Move | null>(null);
  // Let go of, a block stays where it was put until the service has answered.
  const [landed, setLanded] = useState<{ move: Move; on: LayoutSheet; of: Document } | null>(null);
  const [ghosts, setGhosts] = useState(true);
  // The blocks say where they stand in the document; the draft keeps designs by their id.
  const placeOf = (path: string) => path.replace(/^design\./, `designs.${active.id}.`);
  // What was last worked out stays in sight while what was typed since is refused.
  const [kept, setKept] = useState(layout.data);
  if (layout.data && layout.data !== kept) setKept(layout.data);
  const sheet = layout.data ?? kept;
  // Moves of the same block before the service has answered add up.
  const waiting = landed && landed.on === sheet && layout.isPlaceholderData ? landed.move : null;
  // Answered, or taken back: the sheet says where it is.
  if (landed && !waiting && !layout.isPlaceholderData && landed.of !== document) setLanded(null);
  const move = pulled ? summed(waiting, pulled) : waiting;
  const block = sheet?.blocks.find((b) => b.path === chosen);
  const drop = (to: Move) => {
    setMove(null);
    const own = sheet?.blocks.find((b) => b.path === to.path);
    if (!sheet || !own) return;
    setLanded({ move: summed(waiting, to), on: sheet, of: document });
    const mine = waiting?.path === to.path ? waiting : null;
    editAll(written(during(sheet, own, mine), placeOf(own.path), to));
  };
  const weighed = document.design.front_axle_share != null;
  return (
    <Box>
      <Section
        title="To scale"
        note={`drag a block, or choose it and use the arrow keys: ${showText(nudge(system), 'm', system)} a step, with Shift ten times as far`}
        action={
          <FormControlLabel
            control={
              <Switch
                size="small"
                checked={ghosts}
                onChange={(e) => {
                  setGhosts(e.target.checked);
                }}
              />
            }
            label="What came out"
          />
        }
      >
        {layout.isError && <Failed error={layout.error} onRetry={() => void layout.refetch()} />}
        {layout.isPending && !sheet && <Loading what="the layout" />}
        {sheet && (
          <Box
            sx={{
              display: 'grid',
              gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1.5fr) minmax(300px, 1fr)' },
              gap: 3,
            }}
          >
            <Box sx={{ overflowX: 'auto' }}>
              <Drawing
                sheet={sheet}
                shown={sheet.blocks.filter((b) => ghosts || b.kind !== 'removed')}
                chosen={chosen}
                onChoose={setChosen}
                move={move}
                onMove={setMove}
                onDrop={drop}
              />
              <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
                Centre of gravity: D donor, S stripped, C converted, L laden. Dotted edges: size guessed from the mass.
                Thick line: traction cable.
              </Typography>
            </Box>
            <Loads sheet={sheet} move={move} />
          </Box>
        )}
        {weighed && (
          <Typography variant="body2" sx={{ mt: 1 }}>
            The axle share of this variant is stated as weighed; claims and findings count that and not the places.
          </Typography>
        )}
      </Section>
      {sheet && block && (
        <Chosen
          key={block.path}
          block={block}
          at={placeOf(block.path)}
          onUsual={() => {
            edit(placeOf(block.path), undefined);
          }}
        />
      )}
      {sheet && <Blocks sheet={sheet} move={move} chosen={chosen} onChoose={setChosen} />}
      {sheet && <Boxes sheet={sheet} />}
      {sheet && <Cables sheet={sheet} />}
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

/** Place and size of one block, typed. */
function Chosen({ block, at, onUsual }: { block: BlockView; at: string; onUsual: () => void }) {
  return (
    <Section
      title={block.name}
      note="its centre and size"
      action={
        <Button onClick={onUsual} disabled={!block.placed && block.sized_by === 'mass' && block.right_m === 0}>
          As usual for the kind
        </Button>
      }
    >
      <Row>
        <PlaceField at={`${at}.along`} label="Along the vehicle" />
        <Numbers group="Placement" at={at} keys={['right_m', 'up_m', 'length_m', 'width_m', 'height_m']} width={150} />
      </Row>
    </Section>
  );
}
