import { Box, ButtonBase, Tooltip, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import type { Claim } from '../api/types';
import { mono } from '../theme';
import { show, showText } from '../units/units';
import { useUnits } from '../units/UnitsContext';
import { useWorkbench } from '../workbench/WorkbenchContext';

export const verdicts = {
  met: { glyph: '●', word: 'met', color: 'success.main' },
  missed: { glyph: '○', word: 'missed', color: 'error.main' },
  cannot_tell: { glyph: '?', word: 'cannot tell', color: 'text.secondary' },
} as const;

/** A stored figure of a claim with its unit; money takes the brief's currency. */
export function useClaimFigure() {
  const system = useUnits();
  const { draft } = useWorkbench();
  return (value: number, unit: string) =>
    unit === 'money'
      ? { text: show(value, '', system, 5).text, unit: draft.brief.currency ?? '' }
      : show(value, unit, system);
}

/** Where target and prediction lie on a scale that holds both, from 0 to 1. */
function places(claim: Claim) {
  const { predicted, target } = claim;
  const most = Math.max(Math.abs(target), Math.abs(predicted ?? 0), 1e-9) * 1.35;
  const place = (v: number) => Math.min(1, Math.max(0, v / most));
  return { target: place(target), predicted: predicted == null ? null : place(predicted) };
}

function Cell({ claim, stale }: { claim: Claim; stale: boolean }) {
  const theme = useTheme();
  const figure = useClaimFigure();
  const verdict = verdicts[claim.verdict];
  const predicted = claim.predicted == null ? null : figure(claim.predicted, claim.unit);
  const target = figure(claim.target, claim.unit);
  const at = places(claim);
  const asked = `${claim.more_is_better ? 'at least' : 'at most'} ${target.text} ${target.unit}`;
  return (
    <Tooltip title={claim.why} placement="bottom">
      <ButtonBase
        data-testid={`claim-${claim.goal}`}
        aria-label={`${claim.name}: ${verdict.word}, ${predicted ? `${predicted.text} ${predicted.unit}` : 'never reached'}, asked ${asked}. ${claim.why}`}
        sx={{
          flex: '1 0 150px',
          maxWidth: 260,
          display: 'block',
          textAlign: 'left',
          px: 1.5,
          py: 0.75,
          borderRight: '1px solid',
          borderColor: 'divider',
          opacity: stale ? 0.6 : 1,
          transition: 'opacity 120ms 150ms',
        }}
      >
        <Typography variant="caption" color="text.secondary" noWrap sx={{ display: 'block' }}>
          {claim.name}
          {claim.level === 'wish' && <i> · wish</i>}
        </Typography>
        <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', gap: 1 }}>
          <Box
            sx={{
              fontFamily: mono,
              fontSize: '1.15rem',
              fontWeight: 600,
              letterSpacing: '-0.03em',
              whiteSpace: 'nowrap',
            }}
          >
            {predicted ? predicted.text : '–'}
            <Box component="span" sx={{ fontSize: '0.75rem', fontWeight: 400, ml: 0.5, color: 'text.secondary' }}>
              {predicted ? predicted.unit : 'never'}
            </Box>
          </Box>
          <Typography
            component="span"
            variant="caption"
            sx={{ color: verdict.color, fontWeight: 650, whiteSpace: 'nowrap' }}
          >
            {verdict.glyph} {verdict.word}
          </Typography>
        </Box>
        <svg
          viewBox="0 0 100 8"
          width="100%"
          height="8"
          preserveAspectRatio="none"
          aria-hidden
          style={{ display: 'block' }}
        >
          <line
            x1="0"
            x2="100"
            y1="4"
            y2="4"
            stroke={theme.vars?.palette.divider}
            strokeWidth="1"
            vectorEffect="non-scaling-stroke"
          />
          {at.predicted !== null && (
            <rect
              x={Math.min(at.target, at.predicted) * 100}
              width={Math.abs(at.target - at.predicted) * 100}
              y="2.5"
              height="3"
              fill={claim.verdict === 'met' ? theme.vars?.palette.success.main : theme.vars?.palette.error.main}
            />
          )}
          <line
            x1={at.target * 100}
            x2={at.target * 100}
            y1="0"
            y2="8"
            stroke={theme.vars?.palette.text.primary}
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        <Typography
          variant="caption"
          color="text.secondary"
          sx={{ display: 'flex', justifyContent: 'space-between', gap: 1 }}
        >
          <span style={{ whiteSpace: 'nowrap' }}>
            {claim.more_is_better ? '≥' : '≤'} {target.text}
          </span>
          <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
            {claim.limited_by}
          </Box>
        </Typography>
      </ButtonBase>
    </Tooltip>
  );
}

/** One cell a goal, always in view: what is predicted, what was asked, what limits it. */
export function ClaimsStrip() {
  const { claims, computed, draft } = useWorkbench();
  const system = useUnits();
  const missing = computed.problem?.problems ?? [];
  return (
    <Box
      component="section"
      aria-label="Claims"
      aria-live="polite"
      sx={{
        display: 'flex',
        overflowX: 'auto',
        minHeight: 84,
        borderBottom: '1px solid',
        borderColor: 'divider',
        bgcolor: 'background.paper',
      }}
    >
      {claims.map((claim) => (
        <Cell key={claim.goal} claim={claim} stale={computed.stale} />
      ))}
      {claims.length === 0 && (
        <Box sx={{ p: 2, alignSelf: 'center' }}>
          <Typography color="text.secondary">
            {computed.problem
              ? `Nothing can be predicted yet: ${missing.map((p) => p.accepted).join('; ') || computed.problem.detail}.`
              : computed.estimate
                ? 'No goals yet. Say in the Brief what the vehicle must do, and each goal is judged here.'
                : computed.away
                  ? 'The service does not answer; trying again.'
                  : 'Computing …'}
          </Typography>
          {missing.length > 0 && (draft.brief.goals ?? []).length > 0 && (
            <Typography variant="caption" color="text.secondary">
              {(draft.brief.goals ?? []).length} goals wait to be judged, for{' '}
              {showText(draft.donor.curb_mass_kg, 'kg', system)} of vehicle.
            </Typography>
          )}
        </Box>
      )}
    </Box>
  );
}
