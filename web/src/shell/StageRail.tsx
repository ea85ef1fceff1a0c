import { Box, ButtonBase, Typography } from '@mui/material';
import { memo } from 'react';
import { useShared } from '../workbench/useShared';
import { Link, useParams } from 'wouter';
import { searchOf, useSearch } from '../workbench/searches';
import { type Results, useResults, useWorkbench, type Workbench } from '../workbench/WorkbenchContext';

interface StageState {
  word: string;
  /** Needs a decision. */
  open: boolean;
}

export interface StageEntry {
  key: string;
  title: string;
  state: (w: Workbench & Results) => StageState;
}

const counted = (n: number, one: string, many: string) => `${String(n)} ${n === 1 ? one : many}`;

/** Stages in the order of the work; only those that work are listed. */
export const stages: StageEntry[] = [
  {
    key: 'brief',
    title: 'Brief',
    state: (w) => {
      const goals = w.draft.brief.goals ?? [];
      const missed = w.claims.filter((c) => c.verdict === 'missed').length;
      if (goals.length === 0) return { word: 'no goals yet', open: true };
      return missed > 0
        ? { word: `${String(missed)} of ${counted(goals.length, 'goal', 'goals')} missed`, open: true }
        : { word: counted(goals.length, 'goal', 'goals'), open: false };
    },
  },
  {
    key: 'donor',
    title: 'Donor',
    state: (w) => {
      const guesses = Object.values(w.draft.donor.sources ?? {}).filter((s) => s.from === 'guess').length;
      return guesses > 0 ? { word: counted(guesses, 'guess', 'guesses'), open: true } : { word: 'stated', open: false };
    },
  },
  {
    key: 'match',
    title: 'Match',
    state: (w) => {
      const search = searchOf(w.id);
      if (search.running) return { word: 'searching', open: false };
      if (!search.answer) return { word: 'not searched', open: false };
      return search.answer.designs.length > 0
        ? { word: `${counted(search.answer.designs.length, 'design', 'designs')}`, open: false }
        : { word: 'nothing qualifies', open: true };
    },
  },
  {
    key: 'chain',
    title: 'Chain',
    state: (w) => {
      const design = w.document.design;
      const missing = [design.motor, design.controller, design.pack].filter((p) => p == null).length;
      if (missing > 0) return { word: `${String(missing)} to choose`, open: true };
      const stops = (w.computed.estimate?.findings ?? []).filter((f) => f.severity === 'stop').length;
      const warns = (w.computed.estimate?.findings ?? []).filter((f) => f.severity === 'warn').length;
      if (stops > 0) return { word: counted(stops, 'stop', 'stops'), open: true };
      return warns > 0
        ? { word: counted(warns, 'warning', 'warnings'), open: false }
        : { word: 'no warnings', open: false };
    },
  },
  {
    key: 'charge',
    title: 'Charge',
    state: (w) => {
      const sockets = w.draft.brief.sockets ?? [];
      if (sockets.length === 0) return { word: 'no socket yet', open: true };
      if (w.document.design.charger == null) return { word: 'no charger yet', open: true };
      const sessions = (w.computed.estimate?.charging ?? []).filter((c) => c.window != null);
      return sessions.length > 0 && sessions.every((c) => c.window?.hours_h == null)
        ? { word: 'does not get full', open: true }
        : { word: counted(sockets.length, 'socket', 'sockets'), open: false };
    },
  },
  {
    key: 'electrics',
    title: 'Electrics',
    state: (w) => {
      const { design } = w.document;
      if (design.controller == null || design.pack == null) return { word: 'after the chain', open: false };
      const about = (w.computed.estimate?.findings ?? []).filter((f) => f.slot != null || f.part === 'electrics');
      const stops = about.filter((f) => f.severity === 'stop').length;
      if (stops > 0) return { word: counted(stops, 'stop', 'stops'), open: true };
      const warnings = about.filter((f) => f.severity === 'warn').length;
      return warnings > 0
        ? { word: counted(warnings, 'warning', 'warnings'), open: true }
        : { word: 'sized', open: false };
    },
  },
  {
    key: 'layout',
    title: 'Layout',
    state: (w) => {
      const about = (w.computed.estimate?.findings ?? []).filter(
        (f) => f.rule.startsWith('mass.') || f.part === 'layout',
      );
      if (about.length > 0) return { word: counted(about.length, 'warning', 'warnings'), open: true };
      const layout = w.document.design.layout ?? {};
      return Object.keys(layout).length > 0 ? { word: 'placed', open: false } : { word: 'as usual', open: false };
    },
  },
];

interface StageLinkProps extends StageState {
  to: string;
  number: number;
  title: string;
  here: boolean;
}

/** A stage's name and how it stands; painted anew only where that changes. */
const StageLink = memo(function StageLink({ to, number, title, word, open, here }: StageLinkProps) {
  return (
    <ButtonBase
      component={Link}
      to={to}
      aria-current={here ? 'page' : undefined}
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'auto', sm: '18px 1fr' },
        flexShrink: 0,
        textAlign: 'left',
        px: { xs: 0.75, sm: 1.5 },
        py: { xs: 0.25, sm: 1 },
        minHeight: { xs: 33, sm: 24 },
        borderLeft: { sm: '3px solid' },
        borderColor: { sm: here ? 'text.primary' : 'transparent' },
        bgcolor: here ? 'background.paper' : 'transparent',
        minWidth: { xs: 0, sm: 110 },
      }}
    >
      <Typography
        variant="caption"
        color={open ? 'error.main' : 'text.secondary'}
        className="figures"
        sx={{ display: { xs: 'none', sm: 'block' } }}
      >
        {number}
      </Typography>
      <Typography sx={{ fontWeight: here ? 700 : 500 }}>
        {title}
        {open && (
          <Box component="span" aria-hidden sx={{ display: { sm: 'none' }, color: 'error.main' }}>
            {' •'}
          </Box>
        )}
      </Typography>
      <Box component="span" sx={{ display: { xs: 'none', sm: 'block' } }} />
      <Typography
        variant="caption"
        sx={{
          display: { xs: 'none', sm: 'block' },
          color: open ? 'error.main' : 'text.secondary',
          lineHeight: 1.2,
        }}
      >
        {word}
      </Typography>
    </ButtonBase>
  );
});

export function StageRail() {
  const bench = useWorkbench();
  const results = useResults();
  // The state of a search is shown here too.
  useSearch(bench.id);
  const { stage } = useParams();
  const states = useShared(stages.map((s) => s.state({ ...bench, ...results })));
  return <Rail id={bench.id} label={bench.active.label} stage={stage} states={states} />;
}

const Rail = memo(function Rail({
  id,
  label,
  stage,
  states,
}: {
  id: string;
  label: string;
  stage: string | undefined;
  states: StageState[];
}) {
  return (
    <Box
      component="nav"
      aria-label="Stages"
      sx={{
        width: { xs: '100%', sm: 132 },
        flexShrink: 0,
        borderRight: { sm: '1px solid' },
        borderBottom: { xs: '1px solid', sm: 0 },
        borderColor: { xs: 'divider', sm: 'divider' },
        display: 'flex',
        flexDirection: { xs: 'row', sm: 'column' },
        overflowX: 'auto',
        pt: { sm: 1 },
      }}
    >
      {stages.map((s, i) => (
        <StageLink
          key={s.key}
          to={`/c/${id}/${s.key}/${label}`}
          number={i + 1}
          title={s.title}
          word={states[i]?.word ?? ''}
          open={states[i]?.open ?? false}
          here={s.key === stage}
        />
      ))}
      <Box sx={{ flex: 1 }} />
      <ButtonBase
        component={Link}
        to="/library"
        sx={{
          justifyContent: 'flex-start',
          px: { xs: 1, sm: 1.5 },
          py: { xs: 0.25, sm: 1 },
          minHeight: { xs: 33, sm: 24 },
          color: 'text.secondary',
          fontSize: '0.85rem',
        }}
      >
        Library
      </ButtonBase>
    </Box>
  );
});
