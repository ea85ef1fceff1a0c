import { Box, Button, Typography } from '@mui/material';
import type { AxisInfo, Match, ApproachBest } from '../../api/types';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { keyOf } from './plane';
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

const word = (keys: string[]) => keys.map((key) => words[key] ?? key).join(', ');

/** The best of one approach, or of several that come to the same. */
function Best({
  approaches,
  best,
  axes,
  onVariant,
}: {
  approaches: string[];
  best: Match;
  axes: AxisInfo[];
  onVariant: (m: Match) => void;
}) {
  const system = useUnits();
  const said = useSaid();
  const { draft } = useWorkbench();
  return (
    <Box component="li" sx={{ borderLeft: '2px solid', borderColor: 'text.primary', pl: 1.25, minWidth: 0 }}>
      <Typography variant="caption" color="text.secondary" component="div">
        {word(approaches)}
      </Typography>
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
        aria-label={`Make the best of ${word(approaches)} a variant`}
        onClick={() => {
          onVariant(best);
        }}
      >
        use
      </Button>
    </Box>
  );
}

/** The best of each approach side by side, whether it is in the list or not; approaches that come to the same design stand together. */
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
  const [own, otherPack] = packs;
  const known: [string, Match | null][] = [
    ...approaches.map((a): [string, Match | null] => [a.approach, a.best ?? null]),
    ...(own ? [own] : []),
    ...(otherPack && other === 'done' ? [otherPack] : []),
  ];
  const same = new Map<string, { keys: string[]; best: Match }>();
  for (const [key, best] of known) {
    if (!best) continue;
    const group = same.get(keyOf(best)) ?? { keys: [], best };
    same.set(keyOf(best), { ...group, keys: [...group.keys, key] });
  }
  const none = known.filter(([, best]) => !best).map(([key]) => key);
  return (
    <Box sx={{ alignSelf: 'start' }}>
      <Box
        component="ul"
        aria-label="Best of each approach"
        sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2, listStyle: 'none', m: 0, p: 0 }}
      >
        {[...same.values()].map(({ keys, best }) => (
          <Best key={keyOf(best)} approaches={keys} best={best} axes={axes} onVariant={onVariant} />
        ))}
      </Box>
      {none.length > 0 && (
        <Typography variant="body2" sx={{ mt: 1.5 }}>
          {word(none)}: none meets the brief
        </Typography>
      )}
      {otherPack && other !== 'done' && (
        <Box sx={{ mt: 1.5, pl: 1.5 }}>
          <Typography variant="caption" color="text.secondary" component="div">
            {words[otherPack[0]]}
          </Typography>
          <Button disabled={other === 'running'} onClick={onOther} sx={{ px: 0.5 }}>
            {other === 'running' ? 'searching …' : 'search this approach too'}
          </Button>
        </Box>
      )}
    </Box>
  );
}
