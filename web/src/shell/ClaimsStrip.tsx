import { Box, ButtonBase, Typography } from '@mui/material';
import { useDimmed } from '../common/useDimmed';
import { type CSSProperties, memo, type ReactNode } from 'react';
import { useLocation } from 'wouter';
import { refusalOf } from '../units/refusal';
import { showText } from '../units/units';
import { useSaid, useUnits } from '../units/UnitsContext';
import { useFixes } from './CheapestFix';
import { ClaimCell, claimLooks } from './ClaimCell';
import { useFreshness, useResults, useWorkbench } from '../workbench/WorkbenchContext';

/** Words as a sentence. */
const sentence = (words: string) => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** What waits to be judged until the parts are chosen. */
function Waiting() {
  const { draft } = useWorkbench();
  const system = useUnits();
  const goals = (draft.brief.goals ?? []).length;
  if (goals === 0) return null;
  return (
    <Typography variant="caption" color="text.secondary">
      {goals} goals to check; vehicle {showText(draft.donor.curb_mass_kg, 'kg', system)}.
    </Typography>
  );
}

/** What keeps the design from being built, before any claim: a design with a stop is not ready, however well it does. */
function Stops() {
  const { computed } = useResults();
  const { id, active } = useWorkbench();
  const said = useSaid();
  const stops = (computed.estimate?.findings ?? []).filter((f) => f.severity === 'stop');
  const first = stops[0];
  if (!first) return null;
  const stage = { electrics: 'electrics', charger: 'charge', layout: 'layout' }[first.part] ?? 'chain';
  const to = `/c/${id}/${stage}/${active.label}${first.slot == null ? '' : `?place=${first.slot}`}`;
  return <NotReady count={stops.length} first={said(first.message)} to={to} />;
}

const NotReady = memo(function NotReady({ count, first, to }: { count: number; first: string; to: string }) {
  const [, navigate] = useLocation();
  const counted = count === 1 ? '1 stop' : `${String(count)} stops`;
  return (
    <ButtonBase
      onClick={() => navigate(to)}
      aria-label={`Not ready: ${counted}. ${first}`}
      sx={{
        display: 'block',
        textAlign: 'left',
        px: 1.5,
        py: 0.75,
        width: { xs: 130, sm: 190 },
        flexShrink: 0,
        borderRight: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Typography variant="body2" sx={{ color: 'error.main', fontWeight: 650 }}>
        ■ not ready: {counted}
      </Typography>
      <Typography
        variant="caption"
        component="p"
        sx={{
          display: { xs: 'none', sm: '-webkit-box' },
          WebkitLineClamp: 3,
          WebkitBoxOrient: 'vertical',
          overflow: 'hidden',
        }}
      >
        {first}
      </Typography>
    </ButtonBase>
  );
});

/** The claims' row, dimmed while its figures are those before the last edit. */
function Row({ count, children }: { count: number; children: ReactNode }) {
  const dimmed = useDimmed(useFreshness().stale);
  return (
    <div className="claims" style={{ ...dimmed, '--claims': count } as CSSProperties}>
      {children}
    </div>
  );
}

/** One cell a goal, always in view: what is predicted, what was asked, what limits it. */
export function ClaimsStrip() {
  const { claims, computed, setFigure } = useResults();
  const missing = computed.problem?.problems ?? [];
  const { addVariant } = useWorkbench();
  const fixes = useFixes();
  return (
    <Box
      component="section"
      aria-label="Claims"
      aria-live="polite"
      sx={{
        display: 'flex',
        overflowX: 'auto',
        minHeight: { xs: 34, sm: 84 },
        borderBottom: '1px solid',
        borderColor: 'divider',
        bgcolor: 'background.paper',
      }}
    >
      {computed.problem && claims.length > 0 && (
        <Box
          role="alert"
          sx={{ px: 1.5, py: 1, width: 240, flexShrink: 0, borderRight: '1px solid', borderColor: 'divider' }}
        >
          <Typography variant="body2" sx={{ color: 'error.main', fontWeight: 650 }}>
            ▲ not computed
          </Typography>
          <Typography variant="caption" component="p">
            {sentence(missing.map(refusalOf).join('; ') || computed.problem.detail)} The figures are those before.
          </Typography>
        </Box>
      )}
      {claimLooks}
      <Stops />
      {claims.length > 0 && (
        <Row count={claims.length}>
          {claims.map((claim) => (
            <ClaimCell
              key={claim.goal}
              claim={claim}
              fix={fixes?.fixes.find((f) => f.goal === claim.goal)}
              none={fixes?.none.includes(claim.goal) ?? false}
              setFigure={setFigure}
              addVariant={addVariant}
            />
          ))}
        </Row>
      )}
      {claims.length === 0 && (
        <Box sx={{ p: 2, alignSelf: 'center' }}>
          <Typography color="text.secondary">
            {computed.problem
              ? sentence(missing.map((p) => p.accepted).join('; ') || computed.problem.detail)
              : computed.estimate
                ? 'No goals yet. Say in the Brief what the vehicle must do, and each goal is judged here.'
                : computed.away
                  ? 'The service does not answer; trying again.'
                  : 'Computing …'}
          </Typography>
          {missing.length > 0 && <Waiting />}
        </Box>
      )}
    </Box>
  );
}
