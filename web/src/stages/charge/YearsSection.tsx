import { Box, Button, Typography } from '@mui/material';
import { useDimmed } from '../../common/useDimmed';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { yearsQuery } from '../../api/queries';
import type { Design, Journey, YearsAnswer } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { freshId } from '../../workbench/ids';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { useSchools } from './useSchools';
import { useTripNames } from './useTripNames';
import { YearsTable } from './YearsTable';

function Journeys() {
  const { draft, edit } = useWorkbench();
  const trips = useTripNames();
  const journeys = draft.brief.years?.journeys ?? [];
  const trip = trips[0]?.[0];
  const put = (next: Journey[]) => {
    edit('brief.years.journeys', next);
  };
  return (
    <Box>
      <Typography variant="h3">Journeys beside the week</Typography>
      {journeys.length === 0 && (
        <Typography color="text.secondary">
          A few long ones a year decide between a big pack and a small one that charges on the way.
        </Typography>
      )}
      {journeys.map((j, i) => {
        const at = `brief.years.journeys.${String(i)}`;
        return (
          <Box key={j.id} sx={{ py: 1 }}>
            <Row>
              <Words at={`${at}.name`} label="Journey" width={170} />
              <Choice at={`${at}.trip`} label="driven like" options={trips} width={190} />
              <Numbers group="Journey" at={at} keys={['distance_km', 'times_a_year']} width={110} />
              <RemoveButton
                what={j.name}
                onClick={() => {
                  put(journeys.filter((x) => x.id !== j.id));
                }}
              />
            </Row>
          </Box>
        );
      })}
      <Button
        disabled={trip === undefined}
        onClick={() => {
          if (trip === undefined) return;
          const id = freshId(
            'journey',
            journeys.map((j) => j.id),
          );
          put([...journeys, { id, name: 'Journey', trip, distance_km: 200, times_a_year: 6 }]);
        }}
      >
        Add a journey
      </Button>
    </Box>
  );
}

/** The best of both schools, fetched from the search of the library. */
function Schools({ schools }: { schools: ReturnType<typeof useSchools> }) {
  const { running, progress } = schools;
  return (
    <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap', mt: 2 }}>
      {running ? (
        <Button variant="outlined" onClick={schools.stop}>
          Stop the search
        </Button>
      ) : (
        <Button variant="outlined" onClick={() => void schools.start()}>
          {schools.designs.length > 0 ? 'Find the best of both schools again' : 'Find the best of both schools'}
        </Button>
      )}
      <Typography role="status" variant="body2" color={schools.error ? 'error' : 'text.secondary'}>
        {running
          ? `Searching the library for the best ${running} pack${progress ? `: ${String(progress.report.kept)} so far, ${progress.seconds.toFixed(0)} s` : ''} …`
          : schools.error
            ? schools.error.message
            : [
                ...schools.without.map((s) => `No ${s} pack of the library meets the brief.`),
                ...(schools.partial ? ['The search was stopped before its end; better ones may be missing.'] : []),
                ...(schools.stale ? ['Brief or donor have changed since; find them again.'] : []),
                'A search of the whole library: the big pack for the whole range, the small one for a share of it, filled on the way.',
              ].join(' ')}
      </Typography>
    </Box>
  );
}

/** Packs over the years; computed when it is asked for, as every pack is sampled. */
export function YearsSection() {
  const { id, draft, edit, variants, active, addVariant } = useWorkbench();
  const { settled, computed } = useResults();
  const [asked, setAsked] = useState(false);
  const ready = computed.estimate !== undefined;
  const schools = useSchools(id, settled);
  const others = variants
    .filter((v) => v.id !== active.id)
    .slice(0, 6 - schools.designs.length)
    .map((v) => ({ name: `Variant ${v.label}`, design: draft.designs[v.id] as Design }));
  const query = useQuery({ ...yearsQuery(settled, [...schools.designs, ...others]), enabled: ready && asked });
  const dimmed = useDimmed(query.isPlaceholderData);
  const sockets = (draft.brief.sockets ?? []).map((s): [string, string] => [s.id, s.name]);
  const answer: YearsAnswer | undefined = query.data;
  return (
    <Section
      title="The years"
      note="a small pack that charges on the way, or a big one that does not: money, mass and hours waited"
    >
      <Journeys />
      <Box sx={{ mt: 2 }}>
        <Row>
          <Numbers group="Years" at="brief.years" keys={['years', 'winter_weeks']} width={120} />
          <Numbers group="Brief" at="brief" keys={['price_per_kwh']} width={130} />
          <Numbers
            group="Years"
            at="brief.years"
            keys={['night_price_per_kwh', 'night_from_h', 'night_hours_h', 'public_price_per_kwh']}
            width={140}
          />
          {sockets.length > 0 && (
            <Choice
              at="brief.years.public_socket"
              label="Charges on journeys at"
              options={[['', 'the quickest it can use'], ...sockets]}
              width={200}
              onChange={(socket) => {
                edit('brief.years.public_socket', socket === '' ? undefined : socket);
              }}
            />
          )}
        </Row>
      </Box>
      {!ready && (
        <Typography color="text.secondary" sx={{ mt: 2 }}>
          The years are told once motor, controller and pack are chosen.
        </Typography>
      )}
      {ready && !asked && (
        <Button
          variant="outlined"
          sx={{ mt: 2 }}
          onClick={() => {
            setAsked(true);
          }}
        >
          Hold packs against each other over the years
        </Button>
      )}
      {ready && asked && <Schools schools={schools} />}
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {ready && asked && query.isPending && <Loading what="the years of each pack" />}
      {answer && asked && (
        <Box sx={{ mt: 2, ...dimmed }} aria-busy={query.isPlaceholderData}>
          <YearsTable
            answer={answer}
            found={query.isPlaceholderData ? 0 : schools.designs.length}
            others={others.length}
            onTake={(design) => {
              addVariant(design, 'charge', 'Taken as a variant of its own.');
            }}
          />
        </Box>
      )}
    </Section>
  );
}
