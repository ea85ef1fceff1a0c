import { Box, Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useDimmed } from '../../common/useDimmed';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { weekOddsQuery, weekQuery } from '../../api/queries';
import type { Mend, WeekOdds, WeekRun } from '../../api/types';
import { WEEK_BAND_SHAPE, WeekBand } from '../../charts/WeekBand';
import { useClaimFigure, verdicts } from '../../common/claims';
import { Failed, Loading } from '../../common/States';
import { WideTable } from '../../common/WideTable';
import { Section } from '../../fields/Fields';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { Said } from '../../units/Said';
import { clock, dayAndClock, dayWord } from '../../units/week';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { WeekPlan } from './WeekPlan';

const percent = (soc: number) => `${(soc * 100).toFixed(0)} %`;

/** What stops a week, in a few words; empty when it holds. */
function useShortWords() {
  const system = useUnits();
  return ({ shortfall: s }: WeekRun) => {
    if (!s) return '';
    const when = `${dayWord(s.day)} ${clock(s.departure_h)}${s.week > 1 ? `, week ${String(s.week)}` : ''}`;
    if (s.cause === 'pace') return `${when}: cannot keep up`;
    if (s.cause === 'late') return `${when}: still on the road`;
    return `${when}: ${showText(s.short_km, 'km', system, 2)} short`;
  };
}

/** Every trip and charge of one season in words, for those who read rather than look. */
function Blocks({ run }: { run: WeekRun }) {
  const system = useUnits();
  return (
    <WideTable aria-label={`Trips and charges in ${run.season}`} sx={{ maxWidth: 640 }}>
      <TableHead>
        <TableRow>
          <TableCell>{run.season}</TableCell>
          <TableCell>from</TableCell>
          <TableCell>to</TableCell>
          <TableCell align="right">charge</TableCell>
          <TableCell align="right" />
        </TableRow>
      </TableHead>
      <TableBody>
        {run.blocks.map((b) => (
          <TableRow key={`${b.kind}${String(b.from_h)}`}>
            <TableCell>{b.kind === 'drive' ? b.name : `charging, ${b.name}`}</TableCell>
            <TableCell className="figures">{dayAndClock(b.from_h)}</TableCell>
            <TableCell className="figures">{dayAndClock(b.to_h)}</TableCell>
            <TableCell align="right" className="figures">
              {percent(b.from_soc)} → {percent(b.to_soc)}
            </TableCell>
            <TableCell align="right" className="figures">
              {b.kind === 'drive' ? showText(b.driven_km, 'km', system) : showText(b.socket_kwh, 'kWh', system)}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </WideTable>
  );
}

function Mends({ mends, fresh, onTry }: { mends: Mend[]; fresh: boolean; onTry: (mend: Mend) => void }) {
  const { draft } = useWorkbench();
  const figure = useClaimFigure();
  if (mends.length === 0)
    return (
      <Typography color="text.secondary">
        No single change of socket, charger, hours or pack makes it hold: look at the trip itself, or at the match.
      </Typography>
    );
  return (
    <Box component="ul" aria-label="What would make it hold" sx={{ listStyle: 'none', m: 0, p: 0 }}>
      {mends.map((m) => (
        <Box
          component="li"
          key={JSON.stringify(m.words)}
          sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap', py: 0.25 }}
        >
          <Button
            variant="outlined"
            disabled={!fresh}
            onClick={() => {
              onTry(m);
            }}
          >
            Try it
          </Button>
          <Typography>
            <Said of={m.words} />
            {m.price !== 0 && (
              <Typography component="span" className="figures" color="text.secondary" sx={{ ml: 1 }}>
                {m.price > 0 ? '+' : '−'}
                {figure(Math.abs(m.price), 'money').text} {draft.brief.currency ?? ''}
              </Typography>
            )}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

/** How sure a season is: a week that holds on the medians may well fail. */
function Odds({ odds }: { odds: WeekOdds }) {
  const system = useUnits();
  const { word, color } = verdicts[odds.verdict];
  const { p10, p90 } = odds.lowest_soc;
  const [least, most] = [odds.socket_kwh.p10, odds.socket_kwh.p90];
  return (
    <Typography variant="caption" component="span" color="text.secondary" sx={{ display: 'block' }}>
      <Box component="span" sx={{ color, fontWeight: 650 }}>
        {word}
      </Box>
      : holds in {percent(odds.probability)} of {odds.samples} samples
      {odds.probability > 0 && p10 != null && p90 != null && `; lowest ${percent(p10)} … ${percent(p90)}`}
      {least != null && most != null && `; ${showText(least, 'kWh', system)} … ${showText(most, 'kWh', system)}`}
      {odds.fails_at && `; where it fails, mostly at ${odds.fails_at}`}
    </Typography>
  );
}

/** A usual week hour by hour, winter under summer, and what would make it hold. */
export function WeekSection() {
  const { document, editAll, active, say } = useWorkbench();
  const { settled, computed } = useResults();
  const system = useUnits();
  const words = useShortWords();
  const [listed, setListed] = useState(false);
  const ready = computed.estimate !== undefined;
  const query = useQuery({ ...weekQuery(settled), enabled: ready });
  const answer = query.data;
  const odds = useQuery({ ...weekOddsQuery(settled), enabled: ready && answer !== undefined });
  const [dimmed, oddsDimmed] = [useDimmed(query.isPlaceholderData), useDimmed(odds.isPlaceholderData)];
  // A change worked out for what stood here before would take the edit since then back.
  const fresh = settled === document && !query.isPlaceholderData;
  const summary = (runs: WeekRun[]) =>
    runs
      .map((r) => `In ${r.season} ${words(r) || `the week holds; the charge is lowest at ${percent(r.lowest_soc)}`}.`)
      .join(' ');
  const tryOut = (mend: Mend) => {
    const places: [string, unknown][] = [];
    if (mend.week) places.push(['brief.week', mend.week]);
    if (mend.sockets) places.push(['brief.sockets', mend.sockets]);
    if (mend.design) places.push([`designs.${active.id}`, mend.design]);
    editAll(places);
    say('Tried; undo takes it back.');
  };
  return (
    <Section title="The week" note="it begins on Monday full and is repeated until it settles, in summer and in winter">
      {!ready && (
        <Typography color="text.secondary">It can be driven once motor, controller and pack are chosen.</Typography>
      )}
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {ready && query.isPending && (
        // As tall as what comes: else all below it jumps, and a click on it may land on something else.
        <Box sx={{ aspectRatio: WEEK_BAND_SHAPE }}>
          <Loading what="the week" />
        </Box>
      )}
      {answer && (
        <Box sx={dimmed} aria-busy={query.isPlaceholderData}>
          <Box sx={{ overflowX: 'auto' }}>
            <WeekBand runs={answer.seasons} summary={summary(answer.seasons)} word={words} />
          </Box>
          {odds.isError && <Failed error={odds.error} onRetry={() => void odds.refetch()} />}
          <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 4, rowGap: 0.5, mt: 0.5 }}>
            {answer.seasons.map((r) => (
              <Typography key={r.season} data-testid={`week-${r.season}`}>
                <b>{r.season}</b>, {showText(r.temperature_c, '°C', system)}:{' '}
                {r.shortfall ? (
                  <Box component="span" sx={{ color: 'error.main', fontWeight: 650 }}>
                    ✕ {r.shortfall.trip}, {words(r)}
                  </Box>
                ) : r.driven_km === 0 ? (
                  'no trip is made in it'
                ) : (
                  <>
                    ✓ holds, lowest at {percent(r.lowest_soc)} (window ends at {percent(r.soc_min)});{' '}
                    {showText(r.driven_km, 'km', system)}, {showText(r.day_kwh + r.night_kwh, 'kWh', system)} from
                    sockets
                  </>
                )}
                {(odds.data ?? [])
                  .filter((o) => o.season === r.season && r.driven_km > 0)
                  .map((o) => (
                    <Box key={o.season} component="span" sx={oddsDimmed} aria-busy={odds.isPlaceholderData}>
                      <Odds odds={o} />
                    </Box>
                  ))}
              </Typography>
            ))}
            <Button
              aria-expanded={listed}
              onClick={() => {
                setListed(!listed);
              }}
            >
              {listed ? 'Close the list' : 'As a list'}
            </Button>
          </Box>
          {listed && (
            <Box sx={{ display: 'flex', gap: 4, flexWrap: 'wrap', mt: 1 }}>
              {answer.seasons.map((r) => (
                <Blocks key={r.season} run={r} />
              ))}
            </Box>
          )}
          {answer.seasons.some((r) => r.shortfall) && (
            <Box sx={{ mt: 1.5 }}>
              <Typography variant="h3" sx={{ mb: 0.5 }}>
                What would make it hold
              </Typography>
              <Mends mends={answer.mends} fresh={fresh} onTry={tryOut} />
            </Box>
          )}
        </Box>
      )}
      <WeekPlan assumed={answer?.assumed ? answer.week : undefined} />
    </Section>
  );
}
