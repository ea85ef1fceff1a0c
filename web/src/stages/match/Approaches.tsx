import { Box, Button, Typography } from '@mui/material';
import type { AxisInfo, Match, ApproachBest } from '../../api/types';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { figure, motorWords, packWords, valueOf } from './words';
import { useSaid } from '../../units/UnitsContext';

const words: Record<string, string> = {
  direct: 'direct current',
  alternating: 'alternating current',
  new: 'new cells',
  salvaged: 'salvaged cells',
  big: 'big pack',
  small: 'small pack, charging en route',
};

function Best({
  approach,
  best,
  axes,
  onVariant,
}: {
  approach: string;
  best: Match | null;
  axes: AxisInfo[];
  onVariant: (m: Match) => void;
}) {
  const system = useUnits();
  const said = useSaid();
  const { draft } = useWorkbench();
  return (
    <Box sx={{ borderLeft: '2px solid', borderColor: best ? 'text.primary' : 'divider', pl: 1.25, minWidth: 0 }}>
      <Typography variant="caption" color="text.secondary" component="div">
        {words[approach] ?? approach}
      </Typography>
      {best ? (
        <>
          <Typography variant="body2" sx={{ fontWeight: 650 }}>
            {motorWords(best)}
          </Typography>
          <Typography variant="caption" color="text.secondary" component="div">
            {best.pick.controller} · {packWords(best, system)}
          </Typography>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.25 }}>
            {axes
              .filter((a) => a.active)
              .map((a) => {
                const shown = figure(valueOf(best, a.axis), a.unit, system, draft.brief.currency ?? '');
                return (
                  <Typography key={a.axis} variant="caption" title={said(a.name)} className="figures" noWrap>
                    {shown.text} {shown.unit}
                  </Typography>
                );
              })}
          </Box>
          <Button
            sx={{ px: 0.5, minWidth: 0 }}
            aria-label={`Make the best of ${words[approach] ?? approach} a variant`}
            onClick={() => {
              onVariant(best);
            }}
          >
            use
          </Button>
        </>
      ) : (
        <Typography variant="body2">none meets the brief</Typography>
      )}
    </Box>
  );
}

/** The best of each approach side by side, whether it is in the list or not. */
export function Approaches({
  approaches,
  packs,
  axes,
  onVariant,
  onOther,
  other,
}: {
  approaches: ApproachBest[];
  /** Best of both approaches of pack, once the other one has been searched. */
  packs: [string, Match | null][];
  axes: AxisInfo[];
  onVariant: (m: Match) => void;
  /** Searches with the other approach of pack. */
  onOther: () => void;
  other: 'idle' | 'running' | 'done';
}) {
  const best = (key: string) => approaches.find((s) => s.approach === key)?.best ?? null;
  const pairs: [string, Match | null][][] = [
    ['direct', 'alternating'].map((k) => [k, best(k)]),
    ['new', 'salvaged'].map((k) => [k, best(k)]),
    packs,
  ];
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {pairs.map((pair) => (
        <Box key={pair[0]?.[0]} sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2 }}>
          {pair.map(([key, m]) =>
            key === pair[1]?.[0] && pair === packs && other !== 'done' ? (
              <Box key={key} sx={{ pl: 1.25 }}>
                <Typography variant="caption" color="text.secondary" component="div">
                  {words[key]}
                </Typography>
                <Button disabled={other === 'running'} onClick={onOther} sx={{ px: 0.5 }}>
                  {other === 'running' ? 'searching …' : 'search this approach too'}
                </Button>
              </Box>
            ) : (
              <Best key={key} approach={key} best={m} axes={axes} onVariant={onVariant} />
            ),
          )}
        </Box>
      ))}
    </Box>
  );
}
