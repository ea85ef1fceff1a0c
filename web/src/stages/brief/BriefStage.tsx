import { Box, MenuItem, TextField, Typography } from '@mui/material';
import type { Brief, Goal, Measure } from '../../api/types';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { QuantityField } from '../../fields/QuantityField';
import { verdicts } from '../../common/claims';
import { ProposedChain } from '../../parts/ProposedChain';
import { field } from '../../units/units';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { measureKinds, newMeasure, schedules } from './measures';
import { freshId } from '../../workbench/ids';
import { Sockets } from './Sockets';
import { Trips } from './Trips';
import { RemoveButton } from '../../fields/RemoveButton';
import { useSaid } from '../../units/UnitsContext';

/** The measure's own fields: references by choice, numbers from the catalogue. */
function MeasureFields({ index, measure }: { index: number; measure: Measure }) {
  const { draft, edit } = useWorkbench();
  const at = `brief.goals.${String(index)}.measure`;
  const kind = measureKinds[measure.kind];
  const trips: [string, string][] = [
    ...(draft.brief.trips ?? []).map((t): [string, string] => [t.id, t.name]),
    ...(draft.brief.schedules ?? []).map((s): [string, string] => [s, schedules[s]]),
  ];
  return (
    <>
      {kind.reference === 'trip' && <Choice at={`${at}.trip`} label="on" options={trips} />}
      {kind.reference === 'socket' && (
        <Choice at={`${at}.socket`} label="at" options={(draft.brief.sockets ?? []).map((s) => [s.id, s.name])} />
      )}
      {kind.keys.map((key) => (
        <QuantityField
          key={key}
          of={field('Measure', key)}
          value={(measure as unknown as Record<string, number>)[key]}
          currency={draft.brief.currency ?? ''}
          width={130}
          onChange={(v) => {
            edit(`${at}.${key}`, v);
          }}
        />
      ))}
      {measure.kind === 'power_limit' && (
        <TextField
          select
          label="counted as"
          value={measure.rated === true ? 'rated' : 'peak'}
          onChange={(e) => {
            edit(at, { ...measure, rated: e.target.value === 'rated' });
          }}
          sx={{ width: 190 }}
          slotProps={{ inputLabel: { shrink: true } }}
        >
          <MenuItem value="peak">greatest at the shaft</MenuItem>
          <MenuItem value="rated">continuous rating</MenuItem>
        </TextField>
      )}
      {measure.kind === 'hill_at_speed' && (
        <TextField
          select
          label="for"
          value={measure.continuous ? 'ever' : measure.ten_minutes ? 'ten' : 'peak'}
          onChange={(e) => {
            edit(at, { ...measure, continuous: e.target.value === 'ever', ten_minutes: e.target.value === 'ten' });
          }}
          sx={{ width: 130 }}
          slotProps={{ inputLabel: { shrink: true } }}
        >
          <MenuItem value="peak">peak</MenuItem>
          <MenuItem value="ten">ten minutes</MenuItem>
          <MenuItem value="ever">continuously</MenuItem>
        </TextField>
      )}
    </>
  );
}

function GoalRow({ goal, index }: { goal: Goal; index: number }) {
  const { draft, edit } = useWorkbench();
  const { claims } = useResults();
  const claim = claims.find((c) => c.goal === goal.id);
  const at = `brief.goals.${String(index)}`;
  const verdict = claim && verdicts[claim.verdict];
  const said = useSaid();
  return (
    <Box
      component="li"
      sx={{
        display: 'flex',
        gap: 2,
        py: 1.25,
        borderBottom: '1px solid',
        borderColor: 'divider',
        alignItems: 'flex-start',
        flexWrap: 'wrap',
      }}
    >
      <Words at={`${at}.name`} label="Goal" placeholder={claim ? said(claim.name) : ''} width={180} />
      <TextField
        select
        label="is"
        value={goal.level ?? 'required'}
        onChange={(e) => {
          edit(`${at}.level`, e.target.value);
        }}
        sx={{ width: 80 }}
        slotProps={{ inputLabel: { shrink: true } }}
      >
        <MenuItem value="required">required</MenuItem>
        <MenuItem value="wanted">wanted</MenuItem>
      </TextField>
      <MeasureFields index={index} measure={goal.measure} />
      <Box sx={{ flex: 1 }} />
      <Box sx={{ width: 300, pt: 0.5 }}>
        {claim && verdict && (
          <>
            <Typography variant="body2" sx={{ color: verdict.color, fontWeight: 650 }}>
              {verdict.glyph} {verdict.word}
              {goal.assumed === true && (
                <Typography component="span" variant="caption" color="text.secondary">
                  {' '}
                  · target assumed, nobody has said
                </Typography>
              )}
            </Typography>
            <Typography variant="caption" color="text.secondary" component="p">
              {said(claim.why)}
            </Typography>
          </>
        )}
      </Box>
      <RemoveButton
        what={claim ? said(claim.name) : 'goal'}
        onClick={() => {
          edit(
            'brief.goals',
            (draft.brief.goals ?? []).filter((g) => g.id !== goal.id),
          );
        }}
      />
    </Box>
  );
}

function AddGoal() {
  const { draft, edit } = useWorkbench();
  const brief: Brief = draft.brief;
  const usable = (Object.keys(measureKinds) as Measure['kind'][]).filter((k) => {
    const needs = measureKinds[k].reference;
    if (needs === 'trip') return (brief.trips ?? []).length + (brief.schedules ?? []).length > 0;
    return needs !== 'socket' || (brief.sockets ?? []).length > 0;
  });
  return (
    <TextField
      select
      label="Add a goal"
      value=""
      sx={{ width: 200, mt: 2 }}
      onChange={(e) => {
        const goals = brief.goals ?? [];
        const goal: Goal = {
          id: freshId(
            'goal',
            goals.map((g) => g.id),
          ),
          level: 'required',
          weight: 1,
          measure: newMeasure(e.target.value as Measure['kind'], brief, draft.units),
        };
        edit('brief.goals', [...goals, goal]);
      }}
    >
      {usable.map((k) => (
        <MenuItem key={k} value={k} dense>
          {measureKinds[k].word}
        </MenuItem>
      ))}
    </TextField>
  );
}

export default function BriefStage() {
  const { draft } = useWorkbench();
  const goals = draft.brief.goals ?? [];
  return (
    <Box sx={{ maxWidth: 1100 }}>
      <ProposedChain />
      <Section
        title="Goals"
        note="needs, not wishes: the longest regular trip, the road, the hill, the hours at the socket, the money"
      >
        <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {goals.map((g, i) => (
            <GoalRow key={g.id} goal={g} index={i} />
          ))}
        </Box>
        {goals.length === 0 && <Typography color="text.secondary">Nothing is judged until there is a goal.</Typography>}
        <AddGoal />
      </Section>
      <Trips />
      <Sockets />
      <Section title="Site and load">
        <Row>
          <Numbers
            group="Site"
            at="brief.site"
            keys={['temperature_c', 'altitude_m', 'headwind_kmh', 'air_density_kg_m3']}
            width={180}
          />
          <Numbers group="Brief" at="brief" keys={['driver_kg', 'payload_kg', 'price_per_kwh']} width={140} />
          <Words at="brief.currency" label="Currency" width={80} />
        </Row>
      </Section>
      <Section
        title="Summer and winter"
        note="each trip is also computed on these days; lithium takes no charge in frost"
      >
        <Row>
          {(['summer', 'winter'] as const).map((season) => (
            <Row key={season}>
              <Typography sx={{ width: 60, pt: 2, fontWeight: 650 }}>{season}</Typography>
              <Numbers group="Season" at={`brief.${season}`} keys={['temperature_c', 'hvac_w']} width={115} />
              <Numbers group="Season" at={`brief.${season}`} keys={['rolling_factor']} width={170} />
            </Row>
          ))}
        </Row>
      </Section>
      <Section title="Runs" note="conditions of acceleration, top-speed and hill figures">
        <Row>
          <Numbers group="Performance" at="brief.performance" keys={['soc', 'gear', 'reference_kmh']} width={220} />
        </Row>
      </Section>
      <Section title="Name">
        <Row>
          <Words at="name" label="Conversion" />
          <Words at="notes" label="Notes" width={480} multiline />
        </Row>
      </Section>
    </Box>
  );
}
