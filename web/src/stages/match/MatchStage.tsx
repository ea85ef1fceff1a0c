import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { needsQuery } from '../../api/queries';
import type { Match, MatchRequest } from '../../api/types';
import { Section } from '../../fields/Fields';
import { Failed, Loading } from '../../common/States';
import { showText } from '../../units/units';
import { useSaid, useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { Conditions } from './Conditions';
import { HowClosely } from './HowClosely';
import { NeedsView } from './NeedsView';
import { ReportView } from './ReportView';
import { Approaches } from './Approaches';
import { askedFor, designOf, forPack, recall, startSearch, stopSearch, useSearch } from '../../workbench/searches';
import type { Plane } from './plane';
import { conditionWords, count, finalWords, whole } from './words';
import { Said } from '../../units/Said';
import { typedLines } from '../../units/refusal';

// What a search brings comes with its answer.
const Found = lazy(() => import('./Found'));
const RelaxView = lazy(() => import('./RelaxView'));
const WhyNotView = lazy(() => import('./WhyNotView'));

export default function MatchStage() {
  const { id, document, draft, edit, addVariant, say } = useWorkbench();
  const system = useUnits();
  const said = useSaid();
  const request: MatchRequest = draft.brief.search ?? {};
  const needs = useQuery(needsQuery(document));
  const search = useSearch(id);
  useEffect(() => void recall(id), [id]);
  const other = useSearch(`${id}/other-pack`);
  const [showNeeds, setShowNeeds] = useState<boolean | null>(null);
  const [showConditions, setShowConditions] = useState(false);
  const [plane, setPlane] = useState<Plane>({ x: 'cost', y: 'range', brush: null });
  const [chosen, setChosen] = useState<Match[]>([]);
  const [opened, setOpened] = useState<string | null>(null);
  const [beside, setBeside] = useState<Match | null>(null);

  const small = request.pack?.approach === 'small';
  const otherRequest = forPack(request, small ? 'big' : 'small');
  const answer = search.answer;
  const leading = search.progress?.leading ?? [];
  const designs = answer?.designs ?? leading;
  const axes = answer?.axes ?? search.progress?.axes ?? [];
  const report = answer?.report ?? search.progress?.report;
  const changed = search.asked !== '' && !search.running && search.asked !== askedFor(document, request);
  const goals = (draft.brief.goals ?? []).filter((g) => (g.level ?? 'required') === 'required').length;
  const needsOpen = showNeeds ?? (designs.length === 0 && !search.running && answer === null);
  const n = needs.data?.needs;

  const start = () => {
    setChosen([]);
    setOpened(null);
    setBeside(null);
    setPlane({ ...plane, brush: null });
    stopSearch(`${id}/other-pack`);
    void startSearch(id, document, request);
  };
  const makeVariant = async (m: Match) => {
    try {
      addVariant(await designOf(document, request, m.pick), 'chain');
    } catch (error) {
      say(error instanceof Error ? error.message : 'That did not work.');
    }
  };
  const onVariant = (m: Match) => void makeVariant(m);
  const packs: [string, Match | null][] = [
    [small ? 'small' : 'big', answer?.designs[0] ?? null],
    [small ? 'big' : 'small', other.answer?.designs[0] ?? null],
  ];
  const progress = search.progress;
  const share = search.decided;

  return (
    <Box>
      <Section
        title="What the brief demands"
        note="before any part is chosen"
        action={
          <Button
            aria-expanded={needsOpen}
            onClick={() => {
              setShowNeeds(!needsOpen);
            }}
          >
            {needsOpen ? 'close the drawing' : 'show the drawing'}
          </Button>
        }
      >
        {needs.isError && <Failed error={needs.error} onRetry={() => void needs.refetch()} />}
        {needs.isPending && <Loading what="what the brief demands" />}
        {n && (
          <>
            {n.impossible.map((i) => (
              <Box
                key={i.goal}
                role="alert"
                sx={{ borderLeft: '3px solid', borderColor: 'error.main', pl: 1.5, mb: 1 }}
              >
                <Typography variant="body2" sx={{ fontWeight: 650 }}>
                  <Said of={i.name} />: no motor can. Asked {showText(i.target, i.unit, system)},{' '}
                  {i.best == null ? 'it is not reached at all' : `the best is ${showText(i.best, i.unit, system)}`}.
                </Typography>
                <Typography variant="caption" color="text.secondary">
                  <Said of={i.why} />
                </Typography>
              </Box>
            ))}
            <Typography variant="body2" sx={{ mb: needsOpen ? 2 : 0 }} data-testid="needs">
              At the wheels <b className="figures">{showText(n.peak_power_w, 'W', system)}</b> at peak,{' '}
              <b className="figures">{showText(n.continuous_power_w, 'W', system)}</b> held,{' '}
              <b className="figures">{showText(n.peak_wheel_torque_nm, 'N·m', system)}</b>; from the pack{' '}
              <b className="figures">{showText(Math.max(0, ...n.trips.map((t) => t.usable_kwh)), 'kWh', system)}</b>{' '}
              usable at most
              {n.chargers.length > 0 && (
                <>
                  ; a charger of{' '}
                  <b className="figures">
                    {showText(Math.max(...n.chargers.map((c) => c.charger_w)), 'W', system, 3, 'electric_power')}
                  </b>
                </>
              )}
              .
            </Typography>
            {needsOpen && <NeedsView needs={n} />}
          </>
        )}
      </Section>
      <Section
        title="Search"
        note={`${conditionWords(request, draft.brief.currency ?? '')}; ${count(goals, 'goal')} to be met`}
        action={
          <Box sx={{ display: 'flex', gap: 1 }}>
            <Button
              aria-expanded={showConditions}
              onClick={() => {
                setShowConditions(!showConditions);
              }}
            >
              {showConditions ? 'Close constraints' : 'Constraints'}
            </Button>
            {search.running ? (
              <Button
                variant="outlined"
                onClick={() => {
                  stopSearch(id);
                }}
              >
                stop
              </Button>
            ) : (
              <Button variant="contained" onClick={start}>
                {answer ? 'search again' : 'search the library'}
              </Button>
            )}
          </Box>
        }
      >
        {showConditions && <Conditions gearings={needs.data?.gearings ?? []} />}
        {search.running && (
          <Box role="status" sx={{ mt: 1 }}>
            <LinearProgress
              {...(search.relaxing
                ? { variant: 'determinate' as const, value: (100 * search.relaxing.done) / search.relaxing.of }
                : share > 0
                  ? { variant: 'determinate' as const, value: 100 * share }
                  : {})}
              aria-label="Progress of the search"
            />
            <Typography variant="caption" color="text.secondary">
              {search.relaxing
                ? `Nothing meets the brief. Looking for the least that would have to give: ${said(search.relaxing.goal ?? ['all goals together'])} …`
                : progress
                  ? `${whole(progress.report.raw)} combinations, ${whole(progress.report.simulated)} simulated, ${whole(progress.report.kept)} kept so far${progress.settled > 0 ? `, the first ${whole(progress.settled)} of them final` : ''}, ${progress.seconds.toFixed(1)} s`
                  : 'Setting up …'}
            </Typography>
          </Box>
        )}
        {search.error && (
          <Box role="alert" sx={{ borderLeft: '3px solid', borderColor: 'error.main', pl: 1.5, mt: 1 }}>
            {typedLines(search.error).map((m) => (
              <Typography key={m} variant="body2">
                {m}
              </Typography>
            ))}
          </Box>
        )}
        {changed && (
          <Typography variant="body2" sx={{ color: 'warning.main', mt: 1 }}>
            ▲ Brief, donor or conditions have changed since this list was made. Search again.
          </Typography>
        )}
        {search.foundAt !== null && !changed && (
          <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
            Found {new Date(search.foundAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}, for
            this very brief; parts that came into the Library since are not among it.
          </Typography>
        )}
        {!search.running && search.stopped && !answer && (
          <Typography variant="body2" sx={{ color: 'warning.main', mt: 1 }}>
            ▲{' '}
            {designs.length === 0
              ? 'Stopped before anything was found.'
              : `Stopped. ${finalWords(Math.min(progress?.settled ?? 0, designs.length))}`}
          </Typography>
        )}
        {answer && !answer.complete && (
          <Typography variant="body2" sx={{ color: 'warning.main', mt: 1 }}>
            ▲ Stopped after two minutes. {finalWords(answer.settled)}
          </Typography>
        )}
        {answer && answer.widened > 1 && (
          <HowClosely
            answer={answer}
            request={request}
            onAsk={(next) => {
              edit('brief.search', next);
            }}
          />
        )}
        {answer && answer.unpriced.length > 0 && (
          <Typography variant="body2" sx={{ mt: 1 }}>
            Left out, their currency has no rate: {answer.unpriced.join(', ')}.
          </Typography>
        )}
        {answer && answer.without_price.length > 0 && (
          <Typography variant="body2" sx={{ mt: 1 }} data-testid="without-price">
            Left out, nobody has said what they cost: {answer.without_price.join(', ')}. Price them in the Library, or
            name them as in hand under Constraints.
          </Typography>
        )}
        {search.asked === '' && !search.running && (
          <Typography variant="body2" color="text.secondary">
            {goals === 0
              ? 'No goal must be met yet, so everything that fits would qualify. Say in the Brief what the vehicle must do.'
              : 'Every motor, controller, gearing, pack and charger of the library is held against the rules and the goals that must be met; what no other beats is listed.'}
          </Typography>
        )}
      </Section>
      {answer && answer.designs.length === 0 && (
        <Section title="Nothing meets the brief">
          {search.relaxations && (
            <Suspense fallback={<Loading what="the ways out" />}>
              <RelaxView relaxations={search.relaxations} onVariant={onVariant} />
            </Suspense>
          )}
          {!search.relaxations && search.running && <Typography variant="body2">Looking for a way out …</Typography>}
        </Section>
      )}
      {designs.length > 0 && (
        <Section
          title="What meets the brief"
          note={
            answer
              ? 'ranked by the weights of the brief'
              : search.running
                ? 'so far; the search goes on'
                : 'as far as it went'
          }
        >
          <Suspense fallback={<Loading what="the list" />}>
            <Found
              designs={designs}
              axes={axes}
              plane={plane}
              onPlane={setPlane}
              chosen={chosen}
              onChosen={setChosen}
              opened={opened}
              onOpened={setOpened}
              onVariant={onVariant}
              onWhyNot={(m) => {
                setBeside(m);
                window.document.getElementById('why-not')?.scrollIntoView({ block: 'center' });
              }}
              schools={
                answer && (
                  <Approaches
                    approaches={answer.approaches}
                    packs={packs}
                    axes={axes}
                    onVariant={onVariant}
                    onOther={() => void startSearch(`${id}/other-pack`, document, otherRequest)}
                    other={other.running ? 'running' : other.answer ? 'done' : 'idle'}
                  />
                )
              }
            />
          </Suspense>
        </Section>
      )}
      {answer && (
        <Box id="why-not">
          <Section title="Why not this?" note="rules and figures that speak against a part or a combination">
            <Suspense fallback={<Loading what="the reasons" />}>
              <WhyNotView
                request={request}
                beside={beside ?? answer.designs[0] ?? null}
                against={answer.designs}
                gearings={needs.data?.gearings ?? []}
                axes={axes}
              />
            </Suspense>
          </Section>
        </Box>
      )}
      {report && report.raw > 0 && (
        <Section title="Where the combinations went" note={search.running ? 'so far' : ''}>
          <ReportView report={report} />
        </Section>
      )}
    </Box>
  );
}
