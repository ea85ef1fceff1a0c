import { Box, Button, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { memo, type ReactNode, useCallback, useMemo, useState } from 'react';
import { useSearchParams } from 'wouter';
import { Refusal } from '../../api/client';
import { electricsQuery } from '../../api/queries';
import type { CircuitPlace, ElectricsLine, ElectricsSheet, Slot } from '../../api/types';
import { useAfterPaint } from '../../common/useAfterPaint';
import { useDimmed } from '../../common/useDimmed';
import { fileName } from '../../common/download';
import { Failed, Loading } from '../../common/States';
import { useAhead } from '../../workbench/ahead';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { FreshOffer } from '../../parts/TakeIt';
import { Drawing } from './Drawing';
import { Group, said } from './Group';
import { Head } from './Head';
import { Lists } from './Lists';
import { PlacePicker } from './PlacePicker';
import { Places } from './Places';
import { taken } from './taken';
import { Mend, Refused } from './Mend';
import { refusalOf, typedLines } from '../../units/refusal';

const ofLine = (at: string, l: ElectricsLine) => l.takes.map((t): [string, unknown] => [`${at}.${t.path}`, t.value]);
const ofPlace = (at: string, p: CircuitPlace) => taken(at, p.slot, p.least ?? undefined, p.also);

/** What is still to be taken: as a record where one can be chosen, the rest as figures. */
function openOf(sheet: ElectricsSheet | undefined) {
  const places = (sheet?.places ?? []).filter((p) => p.chosen == null && p.least != null);
  const covered: Record<string, Slot> = { fuse: 'pack_fuse', cable: 'traction_cable', converter: 'converter' };
  const lines = (sheet?.groups ?? [])
    .flatMap((g) => g.lines)
    .filter((l) => l.takes.length > 0 && !places.some((p) => p.slot === covered[l.id]));
  return { places, lines };
}

/** Everything between pack, motor, charger and the 12 V side: what each part has to bear, the least that does, and what was chosen. */
export default function ElectricsStage() {
  const { document, draft, active, editAll, say } = useWorkbench();
  const { computed } = useResults();
  // A finding elsewhere leads to the place it is about.
  const [params, setParams] = useSearchParams();
  const [slot, setSlot] = useState<Slot | null>(null);
  const wanted = params.get('place');
  const [led, setLed] = useState<string | null>(null);
  if (wanted !== led) {
    setLed(wanted);
    if (wanted !== null) setSlot(wanted as Slot);
  }
  const ready = computed.estimate !== undefined;
  // What is computed has no name of its own; the drawing is headed by the conversion's.
  const title = `${draft.name} ${active.label}`;
  const named = useMemo(() => ({ ...document, name: title }), [document, title]);
  const query = useQuery({ ...electricsQuery(named), enabled: ready });
  const client = useQueryClient();
  useAhead(
    useCallback(
      (next) => {
        if (ready) void client.prefetchQuery(electricsQuery({ ...next, name: title }));
      },
      [client, ready, title],
    ),
  );
  // What was sized last stays in sight while what was typed since is refused, so that it can be mended where it was typed.
  const [kept, setKept] = useState(query.data);
  if (query.data && query.data !== kept) setKept(query.data);
  const sheet = query.data ?? kept;
  // Figures first: the drawing and the long lists follow a frame later.
  const later = useAfterPaint(sheet);
  // What was sized for the design before an edit is not put over that edit.
  const fresh = !query.isPlaceholderData && !query.isError;
  const at = `designs.${active.id}`;
  // The same from one edit to the next, so that rows which did not change are not painted anew.
  const done = useCallback(
    (places: [string, unknown][]) => {
      editAll(places);
      say('Taken into the design; undo takes it back.');
    },
    [editAll, say],
  );
  const onLine = useCallback(
    (l: ElectricsLine) => {
      done(ofLine(at, l));
    },
    [at, done],
  );
  const onPlace = useCallback(
    (p: CircuitPlace) => {
      done(ofPlace(at, p));
    },
    [at, done],
  );
  const open = useMemo(() => openOf(sheet), [sheet]);
  const onAll = useCallback(() => {
    done([...open.lines.flatMap((l) => ofLine(at, l)), ...open.places.flatMap((p) => ofPlace(at, p))]);
  }, [at, done, open]);
  const complete = document.design.motor != null && document.design.controller != null && document.design.pack != null;
  if (!complete)
    return (
      <Typography color="text.secondary">
        Cables, fuses and contactors follow from the chain: choose motor, controller and pack first.
      </Typography>
    );
  // What the service refused is mended by typing; a service that does not answer is asked again.
  const refused =
    query.error instanceof Refusal ? typedLines(query.error) : (computed.problem?.problems ?? []).map(refusalOf);
  if (!sheet)
    return refused.length > 0 ? (
      <Mend at={at} lines={refused} keys={Object.values(said).flat()} />
    ) : query.isError ? (
      <Failed error={query.error} onRetry={() => void query.refetch()} />
    ) : (
      <Loading what="the electrics" />
    );
  // A place that the design does not have, or nobody has, is not opened.
  const place = sheet.places.find((p) => p.slot === slot);
  const name = fileName(title);
  const stops = (computed.estimate?.findings ?? []).filter((f) => f.severity === 'stop').length;
  return (
    <Page busy={query.isPlaceholderData} fresh={fresh}>
      {refused.length > 0 && <Refused lines={refused} />}
      {query.isError && refused.length === 0 && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      <Head
        ready={sheet.ready}
        assumed={sheet.assumed}
        code={sheet.code}
        stops={stops}
        onAll={open.places.length + open.lines.length > 0 ? onAll : undefined}
      />
      <Jump
        titles={[
          'One-line drawing',
          'What is chosen',
          ...sheet.groups.map((g) => g.name),
          'Wiring list',
          'Parts list',
        ].join('\n')}
      />
      <Drawing svg={(later ?? sheet).drawing} sheet={sheet} at={at} name={name} onOpen={setSlot} />
      <Places sheet={sheet} onTake={onPlace} onOpen={setSlot} />
      {sheet.groups.map((g) => (
        <Group key={g.id} group={g} sheet={sheet} at={at} onTake={onLine} />
      ))}
      <Lists sheet={later ?? sheet} name={name} />
      {place && (
        <PlacePicker
          slot={place.slot}
          name={place.name}
          onClose={() => {
            setSlot(null);
            if (params.has('place')) setParams({}, { replace: true });
          }}
        />
      )}
    </Page>
  );
}

/** The sheet; dimmed and its offers not to be taken while it is that of the edit before. */
function Page({ busy, fresh, children }: { busy: boolean; fresh: boolean; children: ReactNode }) {
  const dimmed = useDimmed(busy);
  return (
    <FreshOffer value={fresh}>
      <Box sx={{ maxWidth: 1180, ...dimmed }} aria-busy={busy}>
        {children}
      </Box>
    </FreshOffer>
  );
}

/** The way down a long sheet. */
const Jump = memo(function Jump({ titles }: { titles: string }) {
  const to = titles.split('\n');
  return (
    <Box
      component="nav"
      aria-label="On this sheet"
      sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 0.5, mb: 1.5, ml: -0.75 }}
    >
      {to.map((title) => (
        <Button
          key={title}
          onClick={() => {
            window.document.querySelector(`section[aria-label="${title}"]`)?.scrollIntoView({ block: 'start' });
          }}
          sx={{ color: 'text.secondary', fontWeight: 400 }}
        >
          {title}
        </Button>
      ))}
    </Box>
  );
});
