import { Box, Button, Typography } from '@mui/material';
import type { Goal, Match, Relaxations } from '../../api/types';
import { put } from '../../workbench/merge';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { figure, motorWords, packWords } from './words';
import { useSaid } from '../../units/UnitsContext';

const targets: Record<Goal['measure']['kind'], string> = {
  range: 'at_least_km',
  energy_use: 'at_most_wh_per_km',
  top_speed: 'at_least_kmh',
  speed_limit: 'at_most_kmh',
  power_limit: 'at_most_w',
  acceleration: 'at_most_s',
  hill_start: 'at_least_percent',
  hill_at_speed: 'at_least_percent',
  charge_time: 'at_most_h',
  cost: 'at_most',
  added_mass: 'at_most_kg',
};

/** When nothing meets the brief: the goals that stand against each other, and the least that would have to give. */
export default function RelaxView({
  relaxations,
  onVariant,
}: {
  relaxations: Relaxations;
  onVariant: (m: Match) => void;
}) {
  const system = useUnits();
  const said = useSaid();
  const { draft, edit, say } = useWorkbench();
  const currency = draft.brief.currency ?? '';
  const worded = (v: number, unit: string) => {
    const shown = figure(v, unit, system, currency);
    return `${shown.text} ${shown.unit}`;
  };
  const take = (option: Relaxations['options'][number]) => {
    let goals = draft.brief.goals ?? [];
    for (const c of option.slacks) {
      const at = goals.findIndex((g) => g.id === c.goal);
      const goal = goals[at];
      if (goal) goals = put(goals, `${String(at)}.measure.${targets[goal.measure.kind]}`, c.relaxed);
      else if (c.goal === 'request.budget') edit('brief.search.budget', c.relaxed);
      else if (c.goal === 'request.most_added_kg') edit('brief.search.most_added_kg', c.relaxed);
    }
    edit('brief.goals', goals);
    say('Taken over into the Brief and the conditions; undo brings back what was asked. Search again.');
  };
  if (relaxations.options.length === 0) {
    return (
      <Typography role="alert">
        {relaxations.complete
          ? 'Even with every goal given up threefold the rules leave no combination: look below at what they cut, and at the parts left out.'
          : 'The search for a way out was stopped before it found one.'}
      </Typography>
    );
  }
  return (
    <Box data-testid="relaxations" sx={{ display: 'grid', gap: 1.5 }}>
      <Typography variant="body2">
        {relaxations.conflict.length > 1 ? (
          <>
            In conflict: <b>{relaxations.conflict.map(said).join(', ')}</b>.{' '}
            {relaxations.options[0]?.slacks.length === 1
              ? 'Letting any one of them go as far as below frees the rest.'
              : 'No single one helps; all of them give a little.'}
          </>
        ) : (
          <>
            <b>{said(relaxations.conflict[0] ?? [])}</b> alone stands against the rest.
          </>
        )}
      </Typography>
      {relaxations.options.map((option) => (
        <Box
          key={option.slacks.map((c) => c.goal).join()}
          sx={{
            borderLeft: '3px solid',
            borderColor: 'error.main',
            pl: 1.5,
            display: 'flex',
            gap: 2,
            alignItems: 'center',
          }}
        >
          <Box sx={{ flex: 1 }}>
            {option.slacks.map((c) => (
              <Typography key={c.goal} variant="body2">
                <b>{said(c.name)}</b>{' '}
                <span className="figures">
                  {worded(c.target, c.unit)} → {worded(c.relaxed, c.unit)}
                </span>{' '}
                <Typography component="span" variant="caption" color="text.secondary">
                  {c.more_is_better
                    ? `${worded(c.target - c.relaxed, c.unit)} less`
                    : `${worded(c.relaxed - c.target, c.unit)} more`}
                </Typography>
              </Typography>
            ))}
            <Typography variant="caption" color="text.secondary">
              then {motorWords(option.design)} with {option.design.pick.controller}, {packWords(option.design, system)},
              for {worded(option.design.cost, 'money')}
            </Typography>
          </Box>
          <Button
            variant="outlined"
            onClick={() => {
              take(option);
            }}
          >
            Use this value
          </Button>
          <Button
            onClick={() => {
              onVariant(option.design);
            }}
          >
            use the design
          </Button>
        </Box>
      ))}
    </Box>
  );
}
