import {
  Autocomplete,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  LinearProgress,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { QuantityField } from '../../fields/QuantityField';
import { whyNotQuery } from '../../api/queries';
import { libraryQuery } from '../../api/stored';
import type { AxisInfo, Examined, Gearing, Match, MatchRequest, Question } from '../../api/types';
import { Failed } from '../../common/States';
import { useUnits } from '../../units/UnitsContext';
import { isOfChain } from '../../parts/records';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { Findings } from '../../parts/Findings';
import { ReportView } from './ReportView';
import { figure, motorWords, packWords, valueOf } from './words';
import { Said } from '../../units/Said';
import { useSaid } from '../../units/UnitsContext';

interface Choice {
  id: string;
  label: string;
  group: string;
  question: Question;
}

function Figures({ m, axes }: { m: Match; axes: AxisInfo[] }) {
  const system = useUnits();
  const said = useSaid();
  const { draft } = useWorkbench();
  return (
    <Typography variant="caption" component="div" color="text.secondary">
      {motorWords(m)} · {m.pick.controller} · {m.gearing} · {packWords(m, system)} · {m.pick.charger ?? 'no charger'}
      <br />
      {axes
        .filter((a) => a.active)
        .map((a) => {
          const shown = figure(valueOf(m, a.axis), a.unit, system, draft.brief.currency ?? '');
          return `${said(a.name)} ${shown.text} ${shown.unit}`;
        })
        .join(' · ')}
    </Typography>
  );
}

function ExaminedView({ title, examined, axes }: { title: string; examined: Examined; axes: AxisInfo[] }) {
  const system = useUnits();
  const { draft } = useWorkbench();
  const worded = (v: number | null | undefined, unit: string) => {
    const shown = figure(v ?? null, unit, system, draft.brief.currency ?? '');
    return `${shown.text} ${shown.unit}`;
  };
  return (
    <Box>
      <Typography variant="h3">{title}</Typography>
      <Figures m={examined.design} axes={axes} />
      {examined.misses.map((m) => (
        <Typography key={m.goal} variant="body2" sx={{ color: 'error.main', mt: 0.5 }}>
          ○ <Said of={m.name} />: <span className="figures">{worded(m.reached, m.unit)}</span> where{' '}
          {m.more_is_better ? 'at least' : 'at most'} <span className="figures">{worded(m.target, m.unit)}</span> is
          asked
        </Typography>
      ))}
      {examined.findings.length > 0 && <Findings findings={examined.findings} />}
      {examined.misses.length + examined.findings.length === 0 && (
        <Typography variant="body2">Nothing speaks against it.</Typography>
      )}
    </Box>
  );
}

const plainCount = {
  unit: '',
  dimension: '',
  min: 1,
  whole: true,
  required: false,
  claimable: false,
  default: 'any',
};

/** "Why not this?": any part or way of gearing asked about, with the rules and figures that speak against it. */
export default function WhyNotView({
  request,
  beside,
  against,
  gearings,
  axes,
}: {
  request: MatchRequest;
  /** The design it is asked at. */
  beside: Match | null;
  against: Match[];
  gearings: Gearing[];
  axes: AxisInfo[];
}) {
  const { document } = useWorkbench();
  const library = useQuery(libraryQuery());
  const [choices, setChoices] = useState<Choice[]>([]);
  const [counts, setCounts] = useState<Pick<Question, 'modules_in_series' | 'strings_in_parallel'>>({});
  const [asked, setAsked] = useState<Question | null>(null);
  const [adding, setAdding] = useState(false);
  const count = (key: keyof typeof counts, label: string, max: number) => (
    <QuantityField
      of={{ ...plainCount, key, label, max }}
      value={counts[key] ?? undefined}
      width={120}
      onChange={(n) => {
        // A new question takes the place of the one that was answered.
        if (asked && !adding) setChoices([]);
        setCounts({ ...(asked && !adding ? {} : counts), [key]: n });
        setAsked(null);
      }}
    />
  );
  const keys = { motor: 'motor', controller: 'controller', module: 'module', charger: 'charger' } as const;
  const groups = { motor: 'motors', controller: 'controllers', module: 'cells and modules', charger: 'chargers' };
  const options: Choice[] = [
    ...(library.data?.parts ?? [])
      .map((p) => p.record)
      .filter(isOfChain)
      .map((record) => ({
        id: `${record.part}:${record.name}`,
        label: record.name,
        group: groups[record.part],
        question: { [keys[record.part]]: record.name },
      })),
    ...gearings.map((g) => ({
      id: `gearing:${g.id}`,
      label: g.name,
      group: 'ways of gearing',
      question: { gearing: g.id },
    })),
  ].sort((a, b) => a.group.localeCompare(b.group) || a.label.localeCompare(b.label));
  const query = useQuery({
    ...whyNotQuery(
      document,
      request,
      asked ?? {},
      beside?.pick ?? null,
      against.slice(0, 60).map((m) => m.pick),
    ),
    enabled: asked !== null,
  });
  const answer = asked ? query.data : undefined;
  return (
    <Box data-testid="why-not" sx={{ display: 'grid', gap: 1.5 }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'flex-start', flexWrap: 'wrap' }}>
        <Autocomplete
          multiple
          size="small"
          options={options}
          value={choices}
          groupBy={(o) => o.group}
          getOptionLabel={(o) => o.label}
          isOptionEqualToValue={(a, b) => a.id === b.id}
          onChange={(_, next) => {
            const more = next.filter((c) => !choices.some((own) => own.id === c.id));
            // A new question takes the place of the one that was answered; of one kind a second takes the place of the first.
            const anew = asked !== null && !adding && more.length > 0;
            const byGroup = new Map((anew ? more : next).map((c) => [c.group, c]));
            setChoices([...byGroup.values()]);
            if (anew) setCounts({});
            setAsked(null);
          }}
          sx={{ width: 460 }}
          renderInput={(props) => (
            <TextField
              {...props}
              label="Why not …"
              placeholder={choices.length === 0 ? 'a motor, controller, cell, charger or way of gearing' : ''}
              slotProps={{ ...props.slotProps, inputLabel: { ...props.slotProps.inputLabel, shrink: true } }}
            />
          )}
        />
        {count('modules_in_series', 'Modules in series', 400)}
        {count('strings_in_parallel', 'Strings', 60)}
        <Button
          sx={{ mt: 2 }}
          variant="outlined"
          disabled={(choices.length === 0 && Object.values(counts).every((n) => n == null)) || query.isFetching}
          onClick={() => {
            setAsked(Object.assign({}, ...choices.map((c) => c.question), counts) as Question);
          }}
        >
          ask
        </Button>
        <FormControlLabel
          sx={{ mt: 1.5 }}
          control={
            <Checkbox
              size="small"
              checked={adding}
              onChange={(e) => {
                setAdding(e.target.checked);
              }}
            />
          }
          label="add to the last question"
        />
      </Box>
      <Typography variant="caption" color="text.secondary">
        {beside
          ? `put into number ${String(beside.place)}: ${motorWords(beside)}, ${beside.layout}`
          : 'everything else is left free'}
      </Typography>
      {query.isFetching && <LinearProgress aria-label="Looking for an answer" />}
      {asked && query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {answer && !query.isFetching && (
        <Box sx={{ display: 'grid', gap: 1.5 }} role="status">
          <Typography sx={{ fontWeight: 650 }}>
            <Said of={answer.summary} />
          </Typography>
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' }, gap: 3 }}>
            {answer.put_in && (
              <ExaminedView title="Put into that design, all else as it is" examined={answer.put_in} axes={axes} />
            )}
            <Box sx={{ display: 'grid', gap: 1, alignContent: 'start' }}>
              {answer.best && (
                <Box>
                  <Typography variant="h3">Its best, with everything else free</Typography>
                  <Figures m={answer.best} axes={axes} />
                </Box>
              )}
              {answer.dominated_by && (
                <Box>
                  <Typography variant="h3">Dominated by</Typography>
                  <Figures m={answer.dominated_by} axes={axes} />
                </Box>
              )}
              {answer.nearest && (
                <ExaminedView title="The nearest miss with it" examined={answer.nearest} axes={axes} />
              )}
              {!answer.best && <ReportView report={answer.report} />}
            </Box>
          </Box>
        </Box>
      )}
    </Box>
  );
}
