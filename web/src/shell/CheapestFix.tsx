import { Box, ButtonBase, Tooltip, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { fixesQuery } from '../api/queries';
import { memo } from 'react';
import type { Fix } from '../api/types';
import { useClaimFigure } from '../common/claims';
import { useSaid } from '../units/UnitsContext';
import { useFreshness, useResults, useWorkbench, type Workbench } from '../workbench/WorkbenchContext';

/** The cheapest single change for each goal that is missed, once the edits have come to rest. */
export function useFixes() {
  const { claims, computed, settled } = useResults();
  const { stale } = useFreshness();
  const { document } = useWorkbench();
  const missed = claims.some((c) => c.verdict === 'missed' || c.verdict === 'unlikely');
  // A change of the design before the last edit would take that edit back.
  const asked = missed && settled === document && !stale && computed.problem === null;
  const query = useQuery({ ...fixesQuery(settled), enabled: asked });
  return asked ? (query.data ?? null) : null;
}

/** Height of two lines of a change, so that the strip is as tall before it is known. */
const twoLines = 38;

export interface FixProps extends Pick<Workbench, 'addVariant'> {
  fix: Fix | undefined;
  /** No single change meets the goal. */
  none: boolean;
  /** Keeps its place free for an answer. */
  room: boolean;
}

/** What meets a missed goal for the least money, as a change to try beside the design at hand. */
export const CheapestFix = memo(function CheapestFix({ fix, none, room, addVariant }: FixProps) {
  const said = useSaid();
  const figure = useClaimFigure();
  if (!fix) {
    // Room for two lines as soon as a goal is missed, so that nothing below jumps when the answer comes.
    if (!none) return room ? <Box sx={{ minHeight: twoLines }} aria-hidden /> : null;
    return (
      <Box sx={{ minHeight: twoLines }}>
        <Tooltip title="No other part, count or gearing alone meets this goal and keeps the others. The Match stage searches all of them together.">
          <Typography
            variant="caption"
            color="text.secondary"
            noWrap
            sx={{ px: 1.5, pb: 0.5, display: 'block' }}
            tabIndex={0}
          >
            no single change
          </Typography>
        </Tooltip>
      </Box>
    );
  }
  const amount = figure(Math.abs(fix.added_cost), 'money');
  const money = `${fix.added_cost > 0 ? '+' : '−'}${amount.text} ${amount.unit}`;
  const then = figure(fix.predicted, fix.unit);
  const loses = fix.makes_missed.map(said).join(', ');
  const title = `${said(fix.change)}: ${money}, then ${then.text} ${then.unit}${loses ? `; misses ${loses}` : ''}. Makes a variant of it.`;
  return (
    <Tooltip title={title}>
      <ButtonBase
        data-testid={`fix-${fix.goal}`}
        aria-label={`Cheapest change that meets it. ${title}`}
        onClick={() => {
          addVariant(fix.design, undefined, `Made a variant with ${said(fix.change)}.`);
        }}
        sx={{
          display: 'block',
          width: { xs: 200, sm: '100%' },
          minHeight: twoLines,
          verticalAlign: 'top',
          textAlign: 'left',
          px: 1.5,
          pb: 0.5,
          color: loses ? 'warning.main' : 'text.primary',
        }}
      >
        <Typography
          variant="caption"
          component="span"
          sx={{
            display: '-webkit-box',
            // What is lost is never cut off.
            WebkitLineClamp: loses ? 5 : 2,
            WebkitBoxOrient: 'vertical',
            overflow: 'hidden',
            lineHeight: 1.3,
          }}
        >
          <b>try</b> {said(fix.change)}, {money}
          {loses ? `, but misses ${loses}` : ''}
        </Typography>
      </ButtonBase>
    </Tooltip>
  );
});
