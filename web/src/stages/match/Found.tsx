import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import type { AxisInfo, Match } from '../../api/types';
import { CompareMatches } from './CompareMatches';
import { MatchTable } from './MatchTable';
import { keyOf, type Plane, within } from './plane';
import { TradeOff } from './TradeOff';

/** What a search has found: drawn on two figures, those chosen side by side, and all of them as rows. */
export default function Found({
  designs,
  axes,
  plane,
  onPlane,
  chosen,
  onChosen,
  opened,
  onOpened,
  onVariant,
  onWhyNot,
  schools,
}: {
  designs: Match[];
  axes: AxisInfo[];
  plane: Plane;
  onPlane: (plane: Plane) => void;
  chosen: Match[];
  onChosen: (chosen: Match[]) => void;
  opened: string | null;
  onOpened: (key: string | null) => void;
  onVariant: (m: Match) => void;
  onWhyNot: (m: Match) => void;
  /** The schools of practice beside the drawing. */
  schools: ReactNode;
}) {
  const marked = new Set(chosen.map(keyOf));
  const without = (m: Match) => chosen.filter((c) => keyOf(c) !== keyOf(m));
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '6fr 5fr' }, gap: 3, mb: 2 }}>
        <TradeOff
          designs={designs}
          axes={axes}
          plane={plane}
          onPlane={onPlane}
          marked={marked}
          onPick={(m) => {
            onOpened(keyOf(m));
            // Drawn first, then looked at.
            requestAnimationFrame(() => {
              const row = document.querySelector(`[data-testid="match-${String(m.place)}"]`);
              row?.scrollIntoView({ block: 'center' });
              row?.querySelector('button')?.focus({ preventScroll: true });
            });
          }}
        />
        {schools}
      </Box>
      {chosen.length > 0 && (
        <Box sx={{ mb: 2 }}>
          <CompareMatches
            chosen={chosen}
            axes={axes}
            onVariant={onVariant}
            onRemove={(m) => {
              onChosen(without(m));
            }}
          />
        </Box>
      )}
      <MatchTable
        designs={designs.filter((m) => within(m, plane) || keyOf(m) === opened)}
        axes={axes}
        chosen={chosen}
        onChosen={(m) => {
          onChosen(marked.has(keyOf(m)) ? without(m) : [...chosen, m]);
        }}
        onVariant={onVariant}
        onWhyNot={onWhyNot}
        opened={opened}
        onOpened={onOpened}
      />
    </>
  );
}
