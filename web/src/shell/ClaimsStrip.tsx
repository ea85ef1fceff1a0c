import { Box, ButtonBase, Tooltip, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { useLocation } from 'wouter';
import type { Fixes } from '../api/types';
import { absentWord, bandWords, useClaimFigure, verdicts } from '../common/claims';
import { mono } from '../theme';
import { labelOf, showText } from '../units/units';
import { useSaid, useUnits } from '../units/UnitsContext';
import type { JudgedClaim } from '../workbench/judge';
import { CheapestFix, useFixes } from './CheapestFix';
import { useResults, useWorkbench } from '../workbench/WorkbenchContext';

/** Where target and prediction lie on a scale that holds both, from 0 to 1. */
function places(claim: JudgedClaim) {
  const { predicted, target, band } = claim;
  const most = Math.max(Math.abs(target), Math.abs(predicted ?? 0), Math.abs(band?.p90 ?? 0), 1e-9) * 1.25;
  const place = (v: number) => Math.min(1, Math.max(0, v / most));
  // What some samples never reach runs off the scale, on the side where it is worst.
  const worst = claim.more_is_better ? 0 : most;
  const ends = band ? ([place(band.p10 ?? worst), place(band.p90 ?? most)] as const) : null;
  return { target: place(target), predicted: predicted == null ? null : place(predicted), ends };
}

function Cell({ claim, stale, fixes }: { claim: JudgedClaim; stale: boolean; fixes: Fixes | null }) {
  const { setFigure } = useResults();
  const theme = useTheme();
  const figure = useClaimFigure();
  const said = useSaid();
  const verdict = verdicts[claim.verdict];
  const predicted = claim.predicted == null ? null : figure(claim.predicted, claim.unit);
  const target = figure(claim.target, claim.unit);
  const at = places(claim);
  const bandColor = {
    met: theme.vars?.palette.success.main,
    likely: theme.vars?.palette.success.main,
    unlikely: theme.vars?.palette.warning.main,
    missed: theme.vars?.palette.error.main,
    cannot_tell: theme.vars?.palette.text.secondary,
  }[claim.verdict];
  const words = claim.band ? bandWords(claim.band, figure) : null;
  const asked = `${claim.more_is_better ? 'at least' : 'at most'} ${target.text} ${target.unit}`;
  return (
    <Box
      sx={{
        // On a phone a line each, so that the stage below has the room.
        flex: { xs: '0 0 auto', sm: '1 0 150px' },
        maxWidth: 260,
        minWidth: 0,
        borderRight: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Tooltip
        title={`${said(claim.why)}${claim.probability == null ? '' : `; met in ${(claim.probability * 100).toFixed(0)} of 100 samples`}`}
        placement="bottom"
      >
        <ButtonBase
          data-testid={`claim-${claim.goal}`}
          onClick={() => {
            setFigure(claim.figure);
          }}
          aria-label={`${said(claim.name)}: ${verdict.word}, ${predicted ? `${predicted.text} ${predicted.unit}` : absentWord(claim.figure)}, asked ${asked}. ${said(claim.why)}. ${words ? `Between ${words} four times in five. ` : ''}Open to see its main influences.`}
          sx={{
            width: '100%',
            display: { xs: 'flex', sm: 'block' },
            alignItems: 'baseline',
            gap: 1,
            textAlign: 'left',
            px: 1.5,
            py: { xs: 0.5, sm: 0.75 },
            opacity: stale ? 0.6 : 1,
            transition: 'opacity 120ms 150ms',
          }}
        >
          <Typography
            variant="caption"
            color="text.secondary"
            noWrap
            sx={{ display: 'block', maxWidth: { xs: 96, sm: 'none' } }}
          >
            {said(claim.name)}
            {claim.level === 'wanted' && <i> · wanted</i>}
            {endsEarly(claim) && (
              <Box component="span" sx={{ color: 'warning.main' }}>
                {' '}
                · ended by {claim.limited_by}
              </Box>
            )}
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
                {predicted ? predicted.unit : absentWord(claim.figure)}
              </Box>
            </Box>
            <Typography
              component="span"
              variant="caption"
              sx={{ color: verdict.color, fontWeight: 650, whiteSpace: 'nowrap' }}
            >
              {verdict.glyph}{' '}
              <Box component="span" sx={{ display: { xs: 'none', sm: 'inline' } }}>
                {verdict.word}
              </Box>
            </Typography>
          </Box>
          <Box sx={{ display: { xs: 'none', sm: 'block' } }}>
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
              {at.ends && (
                <rect
                  x={at.ends[0] * 100}
                  width={Math.max(0.6, (at.ends[1] - at.ends[0]) * 100)}
                  y="1.5"
                  height="5"
                  opacity="0.85"
                  fill={bandColor}
                />
              )}
              {at.predicted !== null && (
                <line
                  x1={at.predicted * 100}
                  x2={at.predicted * 100}
                  y1="1"
                  y2="7"
                  stroke={at.ends ? theme.vars?.palette.background.paper : bandColor}
                  strokeWidth="2"
                  vectorEffect="non-scaling-stroke"
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
                {words ?? claim.limited_by}
              </Box>
            </Typography>
          </Box>
        </ButtonBase>
      </Tooltip>
      <CheapestFix
        fix={fixes?.fixes.find((f) => f.goal === claim.goal)}
        none={fixes?.none.includes(claim.goal) ?? false}
        room={claim.verdict === 'missed' || claim.verdict === 'unlikely'}
      />
    </Box>
  );
}

/** Words as a sentence. */
const sentence = (words: string) => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** Whether a range ends before the pack's energy does: that is said beside the band, which does not tell it. */
const endsEarly = (claim: JudgedClaim) =>
  claim.figure.endsWith('.range_km') && ['heat', 'pack sag'].includes(claim.limited_by);

/** A refusal by the field's label: what was given, and what would be accepted. Its place in the document means nothing to a person. */
const told = (p: { path: string; given: string; accepted: string }) =>
  [[labelOf(p.path), p.given].filter((w) => w !== '').join(' '), p.accepted].filter((w) => w !== '').join(': ');

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
  const [, navigate] = useLocation();
  const said = useSaid();
  const stops = (computed.estimate?.findings ?? []).filter((f) => f.severity === 'stop');
  const first = stops[0];
  if (!first) return null;
  const stage = { electrics: 'electrics', charger: 'charge', layout: 'layout' }[first.part] ?? 'chain';
  return (
    <ButtonBase
      onClick={() => navigate(`/c/${id}/${stage}/${active.label}${first.slot == null ? '' : `?place=${first.slot}`}`)}
      aria-label={`Not ready: ${stops.length === 1 ? '1 stop' : `${String(stops.length)} stops`}. ${said(first.message)}`}
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
        ■ not ready: {stops.length === 1 ? '1 stop' : `${String(stops.length)} stops`}
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
        {said(first.message)}
      </Typography>
    </ButtonBase>
  );
}

/** One cell a goal, always in view: what is predicted, what was asked, what limits it. */
export function ClaimsStrip() {
  const { claims, computed } = useResults();
  const missing = computed.problem?.problems ?? [];
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
            {sentence(missing.map(told).join('; ') || computed.problem.detail)} The figures are those before.
          </Typography>
        </Box>
      )}
      <Stops />
      {claims.map((claim) => (
        <Cell key={claim.goal} claim={claim} stale={computed.stale} fixes={fixes} />
      ))}
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
