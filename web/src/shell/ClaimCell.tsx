import { ButtonBase, GlobalStyles, Tooltip } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { memo } from 'react';
import { absentWord, bandWords, useClaimFigure, verdicts } from '../common/claims';
import { useSaid } from '../units/UnitsContext';
import type { JudgedClaim } from '../workbench/judge';
import { get } from '../workbench/merge';
import { CheapestFix, type FixProps } from './CheapestFix';

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

/** Whether a range ends before the pack's energy does: that is said beside the band, which does not tell it. */
const endsEarly = (claim: JudgedClaim) =>
  claim.figure.endsWith('.range_km') && ['heat', 'pack sag'].includes(claim.limited_by);

/**
 * How the cells look. They are redrawn with every edit, all of them: plain elements with rules of their own take a third of the time that
 * styled ones do.
 */
export const claimLooks = (
  <GlobalStyles
    styles={(theme) => {
      const narrow = theme.breakpoints.down('sm');
      const vars = theme.vars ?? theme;
      const cut = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;
      const quiet = { ...theme.typography.caption, color: vars.palette.text.secondary };
      return {
        '.claims': {
          display: 'flex',
          flex: '1 1 0',
          minWidth: 'calc(var(--claims) * 150px)',
          [narrow]: { flex: '0 0 auto', minWidth: 0 },
        },
        '.claim': {
          // On a phone a line each, so that the stage below has the room.
          flex: '1 0 150px',
          maxWidth: 260,
          minWidth: 0,
          borderRight: `1px solid ${vars.palette.divider}`,
          [narrow]: { flex: '0 0 auto' },
        },
        '.claim-button.MuiButtonBase-root': {
          width: '100%',
          display: 'block',
          textAlign: 'left',
          padding: theme.spacing(0.75, 1.5),
          [narrow]: {
            display: 'flex',
            alignItems: 'baseline',
            gap: theme.spacing(1),
            padding: theme.spacing(0.5, 1.5),
          },
        },
        '.claim-name': { ...quiet, ...cut, display: 'block', [narrow]: { maxWidth: 96 } },
        '.claim-name b': { fontWeight: 'inherit', color: vars.palette.warning.main },
        '.claim-figure': {
          display: 'flex',
          alignItems: 'baseline',
          justifyContent: 'space-between',
          gap: theme.spacing(1),
        },
        '.claim-figure > .figures': {
          fontSize: '1.15rem',
          fontWeight: 600,
          letterSpacing: '-0.03em',
          ...cut,
        },
        '.claim-unit': {
          fontSize: '0.75rem',
          fontWeight: 400,
          marginLeft: theme.spacing(0.5),
          color: vars.palette.text.secondary,
        },
        '.claim-verdict': { ...theme.typography.caption, fontWeight: 650, whiteSpace: 'nowrap', flexShrink: 0 },
        '.claim-asked': { ...quiet, display: 'flex', justifyContent: 'space-between', gap: theme.spacing(1) },
        '.claim-asked > :first-of-type': { whiteSpace: 'nowrap' },
        '.claim-asked > :last-child': cut,
        '.claim-scale': { display: 'block' },
        [narrow]: { '.claim-word, .claim-scale, .claim-asked': { display: 'none' } },
      };
    }}
  />
);

interface OneClaim {
  claim: JudgedClaim;
  /** Opens the figure's main influences. */
  setFigure: (figure: string) => void;
}

/** One goal: what is predicted, what was asked, what limits it; painted anew only where its claim has changed. */
const ClaimFigure = memo(function ClaimFigure({ claim, setFigure }: OneClaim) {
  const { palette } = useTheme().vars ?? {};
  const figure = useClaimFigure();
  const said = useSaid();
  const verdict = verdicts[claim.verdict];
  const predicted = claim.predicted == null ? null : figure(claim.predicted, claim.unit);
  const target = figure(claim.target, claim.unit);
  const at = places(claim);
  const color = get(palette, verdict.color) as string;
  const words = claim.band ? bandWords(claim.band, figure) : null;
  const [name, why] = [said(claim.name), said(claim.why)];
  const odds = claim.probability == null ? '' : `; met in ${(claim.probability * 100).toFixed(0)} of 100 samples`;
  const told = predicted ? `${predicted.text} ${predicted.unit}` : absentWord(claim.figure);
  const asked = `${claim.more_is_better ? 'at least' : 'at most'} ${target.text} ${target.unit}`;
  return (
    <Tooltip title={why + odds} placement="bottom">
      <ButtonBase
        className="claim-button"
        data-testid={`claim-${claim.goal}`}
        onClick={() => {
          setFigure(claim.figure);
        }}
        aria-label={`${name}: ${verdict.word}, ${told}, asked ${asked}. ${why}. ${words ? `Between ${words} four times in five. ` : ''}Open to see its main influences.`}
      >
        <span className="claim-name">
          {name}
          {claim.level === 'wanted' && <i> · wanted</i>}
          {endsEarly(claim) && <b> · ended by {claim.limited_by}</b>}
        </span>
        <span className="claim-figure">
          <span className="figures">
            {predicted ? predicted.text : '–'}
            <span className="claim-unit">{predicted ? predicted.unit : absentWord(claim.figure)}</span>
          </span>
          <span className="claim-verdict" style={{ color }}>
            {verdict.glyph} <span className="claim-word">{verdict.word}</span>
          </span>
        </span>
        <svg className="claim-scale" viewBox="0 0 100 8" width="100%" height="8" preserveAspectRatio="none" aria-hidden>
          <line
            x1="0"
            x2="100"
            y1="4"
            y2="4"
            stroke={palette?.divider}
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
              fill={color}
            />
          )}
          {at.predicted !== null && (
            <line
              x1={at.predicted * 100}
              x2={at.predicted * 100}
              y1="1"
              y2="7"
              stroke={at.ends ? palette?.background.paper : color}
              strokeWidth="2"
              vectorEffect="non-scaling-stroke"
            />
          )}
          <line
            x1={at.target * 100}
            x2={at.target * 100}
            y1="0"
            y2="8"
            stroke={palette?.text.primary}
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        <span className="claim-asked">
          <span>
            {claim.more_is_better ? '≥' : '≤'} {target.text}
          </span>
          <span>{words ?? claim.limited_by}</span>
        </span>
      </ButtonBase>
    </Tooltip>
  );
});

/** A goal as it stands, and the cheapest change that meets it where it is missed. */
export const ClaimCell = memo(function ClaimCell({
  claim,
  fix,
  none,
  setFigure,
  addVariant,
}: OneClaim & Omit<FixProps, 'room'>) {
  return (
    <div className="claim">
      <ClaimFigure claim={claim} setFigure={setFigure} />
      <CheapestFix
        fix={fix}
        none={none}
        room={claim.verdict === 'missed' || claim.verdict === 'unlikely'}
        addVariant={addVariant}
      />
    </div>
  );
});
