import { Box, ButtonBase, Typography } from '@mui/material';
import type { Alternative, Claim, Part } from '../api/types';
import { absentWord, useClaimFigure, verdicts } from '../common/claims';
import { Said } from '../units/Said';
import { figures } from '../units/units';
import { useSaid, useUnits } from '../units/UnitsContext';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { summary } from './summary';

/** Changes of the verdicts against those in force, worded; figures of the goals that a part moves. */
function Effects({ alternative, before }: { alternative: Alternative; before: Claim[] }) {
  const figure = useClaimFigure();
  const outcome = alternative.outcome;
  if (!outcome) return <Typography variant="caption">{alternative.refusal?.split('\n')[0]}</Typography>;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.5 }}>
      {outcome.claims.map((c) => {
        const old = before.find((b) => b.goal === c.goal);
        const worded = (x: Claim) => (x.predicted == null ? absentWord(x.figure) : figure(x.predicted, x.unit).text);
        const moved = !old || worded(old) !== worded(c);
        const v = verdicts[c.verdict];
        const flipped = old !== undefined && old.verdict !== c.verdict;
        const shown = c.predicted == null ? { text: absentWord(c.figure), unit: '' } : figure(c.predicted, c.unit);
        if (!moved && !flipped) return null;
        return (
          <Typography
            key={c.goal}
            variant="caption"
            component="span"
            sx={{ whiteSpace: 'nowrap' }}
            color="text.secondary"
          >
            <Said of={c.name} />{' '}
            <Box component="span" className="figures" sx={{ color: 'text.primary' }}>
              {shown.text} {shown.unit}
            </Box>{' '}
            <Box component="span" sx={{ color: v.color, fontWeight: flipped ? 700 : 400 }}>
              {flipped && verdicts[old.verdict].glyph}
              {flipped && '→'}
              {v.glyph}
              {flipped && ` ${v.word}`}
            </Box>
          </Typography>
        );
      })}
    </Box>
  );
}

/** One part with what it would do, to be chosen. */
export function PartChoice({
  part,
  alternative,
  current,
  before,
  cost,
  onPick,
}: {
  part: Part;
  alternative: Alternative | undefined;
  current: boolean;
  before: Claim[];
  cost: number | undefined;
  onPick: () => void;
}) {
  const system = useUnits();
  const said = useSaid();
  const { draft } = useWorkbench();
  const outcome = alternative?.outcome;
  const delta = outcome && cost !== undefined ? outcome.cost - cost : null;
  return (
    <ButtonBase
      onClick={onPick}
      aria-label={`${current ? 'In use: ' : 'Use '}${part.name}`}
      sx={{
        display: 'block',
        width: '100%',
        textAlign: 'left',
        px: 2.5,
        py: 1,
        borderTop: '1px solid',
        borderColor: 'divider',
        bgcolor: current ? 'background.default' : 'transparent',
        '&:hover': { bgcolor: 'background.default' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Typography sx={{ fontWeight: 650 }}>{part.name}</Typography>
        {current && <Typography variant="caption">in use</Typography>}
        <Box sx={{ flex: 1 }} />
        {outcome && (
          <Typography variant="caption" className="figures" sx={{ whiteSpace: 'nowrap' }}>
            {outcome.met} of {outcome.claims.length} met
          </Typography>
        )}
        <Typography
          className="figures"
          sx={{ fontSize: '0.8rem', width: 84, textAlign: 'right', whiteSpace: 'nowrap' }}
        >
          {delta === null
            ? part.price
              ? figures(part.price, 5)
              : 'no price'
            : Math.abs(delta) < 0.5
              ? '± 0'
              : `${delta > 0 ? '+' : '−'} ${figures(Math.abs(delta), 5)}`}{' '}
          {delta !== null ? draft.brief.currency : part.price ? (part.currency ?? draft.brief.currency) : ''}
        </Typography>
      </Box>
      <Typography variant="caption" color="text.secondary" component="div">
        {summary(part, system)}
      </Typography>
      {alternative && !current && <Effects alternative={alternative} before={before} />}
      {outcome?.stops.map((s) => (
        <Typography key={said(s)} variant="caption" component="div" sx={{ color: 'error.main', fontWeight: 600 }}>
          ■ {said(s)}
        </Typography>
      ))}
    </ButtonBase>
  );
}
