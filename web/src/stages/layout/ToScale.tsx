import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { photographsQuery } from '../../api/stored';
import type { Document, LayoutSheet } from '../../api/types';
import { Section } from '../../fields/Fields';
import { Toggle } from '../../fields/Toggle';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { get } from '../../workbench/merge';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { during, type Move, nudge, stated, summed, written } from './account';
import { Drawing } from './Drawing';
import { Loads } from './Loads';
import { snapped } from './snap';

/** Drawing and loads; what is being pulled is known here alone, so that nothing else is painted while it is. */
export function ToScale({
  sheet,
  of,
  answered,
  chosen,
  onChoose,
  onPlace,
}: {
  sheet: LayoutSheet;
  /** What the draft stands at. */
  of: Document;
  /** Whether the sheet is that of the draft. */
  answered: boolean;
  chosen: string | null;
  onChoose: (path: string) => void;
  /** Writes places of a block of the sheet: by their keys within it. */
  onPlace: (path: string, places: (at: string) => [string, unknown][]) => void;
}) {
  const system = useUnits();
  const { id } = useWorkbench();
  const photographs = useQuery(photographsQuery(id));
  const [ghosts, setGhosts] = useState(true);
  const [pulled, setPulled] = useState<Move | null>(null);
  // Let go of, a block stays where it was put until the service has answered; moves of it until then add up.
  const [landed, setLanded] = useState<{ move: Move; on: LayoutSheet; of: Document } | null>(null);
  const waiting = landed && landed.on === sheet && !answered ? landed.move : null;
  // Answered, or taken back: the sheet says where it is.
  if (landed && answered && landed.of !== of) setLanded(null);
  const move = pulled ? summed(waiting, pulled) : waiting;
  const drop = (to: Move) => {
    const own = sheet.blocks.find((b) => b.path === to.path);
    if (!own) return;
    setLanded({ move: summed(waiting, to), on: sheet, of });
    const mine = waiting?.path === to.path ? waiting : null;
    // What the draft says counts, not what was answered last: steps may come faster than answers.
    const from = stated(during(sheet, own, mine), get(of, own.path));
    onPlace(own.path, (at) => written(from, at, to));
  };
  // What the service has not answered yet lies elsewhere than the sheet says: then nothing is lined up.
  const snap = (to: Move) => {
    const own = sheet.blocks.find((b) => b.path === to.path);
    return own && !waiting ? snapped(sheet, own, to) : to;
  };
  return (
    <Section title="To scale" action={<Toggle label="What came out" on={ghosts} onChange={setGhosts} />}>
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
            holes={of.donor.bolt_patterns ?? []}
            underlays={of.donor.underlays}
            photographs={photographs.data ?? []}
            chosen={chosen}
            onChoose={onChoose}
            move={move}
            onMove={setPulled}
            onDrop={drop}
            snap={snap}
          />
          <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
            Centre of gravity: D donor, S stripped, C converted, L laden. Dotted edges: size guessed from the mass.
            Thick line: traction cable.
            <span className="unprinted">
              {' '}
              Drag a block, or choose it and use the arrow keys: {showText(nudge(system), 'm', system)} a step, with
              Shift ten times as far; dragged, it jumps to edges it comes near, but not with Alt.
            </span>
          </Typography>
        </Box>
        <Loads sheet={sheet} move={move} />
      </Box>
      {sheet.per_kg_m === 0 && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          Axle share or laden mass are stated: arrows, bars, claims and findings count those. The table is by the
          places.
        </Typography>
      )}
    </Section>
  );
}
