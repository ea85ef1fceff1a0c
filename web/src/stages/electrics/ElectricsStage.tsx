import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { lazy, memo, Suspense, useCallback, useDeferredValue, useMemo, useState } from 'react';
import { useSearchParams } from 'wouter';
import { Refusal } from '../../api/client';
import { electricsQuery } from '../../api/queries';
import type { CircuitPlace, ElectricsGroup, ElectricsLine, ElectricsSheet, Slot } from '../../api/types';
import { download, fileName } from '../../common/download';
import { Failed, Loading } from '../../common/States';
import { Numbers, Row, Section } from '../../fields/Fields';
import { Said } from '../../units/Said';
import { wiringKeys } from '../../parts/wiring';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { GroupLines } from '../../parts/GroupLines';
import { Lists } from './Lists';
import { LoadTable } from './LoadTable';
import { OneLine } from './OneLine';
import { PartPanel } from './PartPanel';
import { PlacePicker } from './PlacePicker';
import { Places } from './Places';
import { taken } from './taken';
import { Mend, Refused } from './Mend';
import { Choices, InsulationTest } from './Settings';
import { refusalOf, typedLines } from '../../units/refusal';

const Drawings = lazy(() => import('./Drawings'));

/** Fields that change what is derived, by the group they stand under. */
const said: Record<string, string[]> = {
  traction: ['ambient_c', 'insulation_c', 'bundled'],
  precharge: ['bus_capacitance_mf', 'precharge_ohm', 'precharge_delay_s', 'precharge_load_w'],
  motor: ['phase_length_m', 'meshes'],
  charge: ['charge_length_m'],
  low_voltage: ['converter_power_w', 'auxiliary_ah'],
  heat: ['heating_w'],
  brakes: ['reservoir_l', 'press_l', 'vacuum_kpa', 'least_help_kpa', 'pump_l_min'],
  safety: ['hand_checked_every'],
};

/** Groups with a drawing; it stands beside the lines where there is room. */
const drawn = new Set(['traction', 'precharge', 'brakes']);
const alone = { display: 'grid', gridTemplateColumns: '1fr', columnGap: 4 };
const besideDrawing = { ...alone, gridTemplateColumns: { xs: '1fr', lg: 'minmax(0, 1fr) 430px' } };

/** What waits for an answer is dimmed, but not for the blink that an answer takes: painting a long sheet twice would make it late. */
const page = {
  maxWidth: 1180,
  transition: 'opacity 0.1s',
  '&[aria-busy="true"]': { opacity: 0.6, transitionDelay: '0.4s' },
};

const ofLine = (at: string, l: ElectricsLine) => l.takes.map((t): [string, unknown] => [`${at}.${t.path}`, t.value]);
const ofPlace = (at: string, p: CircuitPlace) => taken(at, p.slot, p.least ?? undefined, p.also);

/** Everything between pack, motor, charger and the 12 V side: what each part has to bear, the least that does, and what was chosen. */
export default function ElectricsStage() {
  const { document, draft, active, editAll, say } = useWorkbench();
  const { computed } = useResults();
  // A finding elsewhere leads to the place it is about.
  const [params, setParams] = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(null);
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
  // What was sized last stays in sight while what was typed since is refused, so that it can be mended where it was typed.
  const [kept, setKept] = useState(query.data);
  if (query.data && query.data !== kept) setKept(query.data);
  const sheet = query.data ?? kept;
  // Figures first: the drawing and the long lists follow a frame later.
  const later = useDeferredValue(sheet);
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
  const onSymbol = useCallback((id: string) => {
    setChosen((now) => (id === now ? null : id));
  }, []);
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
  // What a record can be chosen for is offered as a record; the rest as figures.
  const offered = sheet.places.filter((p) => p.chosen == null && p.least != null);
  const covered: Record<string, Slot> = { fuse: 'pack_fuse', cable: 'traction_cable', converter: 'converter' };
  const open = sheet.groups
    .flatMap((g) => g.lines)
    .filter((l) => l.takes.length > 0 && !offered.some((p) => p.slot === covered[l.id]));
  const part = sheet.circuit.parts.find((p) => p.id === chosen);
  // A place that the design does not have, or nobody has, is not opened.
  const place = sheet.places.find((p) => p.slot === slot);
  const name = fileName(title);
  const stops = (computed.estimate?.findings ?? []).filter((f) => f.severity === 'stop').length;
  return (
    <Box sx={page} aria-busy={query.isPlaceholderData}>
      {refused.length > 0 && <Refused lines={refused} />}
      {query.isError && refused.length === 0 && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap', mb: 2 }}>
        <Typography color="text.secondary" sx={{ flex: '1 1 420px' }}>
          {!sheet.ready && (
            <Box component="span" sx={{ color: 'error.main', fontWeight: 650 }}>
              ■ Not ready to be built: {stops === 1 ? '1 stop' : `${String(stops)} stops`}.{' '}
            </Box>
          )}
          {sheet.assumed.length > 0 && (
            <>
              Assumed, as nobody has said:{' '}
              {sheet.assumed.map((a, i) => (
                <span key={JSON.stringify(a)}>
                  {i > 0 && '; '}
                  <Said of={a} />
                </span>
              ))}
              .
            </>
          )}{' '}
          {sheet.code}
        </Typography>
        {offered.length + open.length > 0 && (
          <Button
            variant="outlined"
            disabled={!fresh}
            onClick={() => {
              done([...open.flatMap((l) => ofLine(at, l)), ...offered.flatMap((p) => ofPlace(at, p))]);
            }}
          >
            Take all that is open
          </Button>
        )}
      </Box>
      <Jump
        titles={[
          'One-line drawing',
          'What is chosen',
          ...sheet.groups.map((g) => g.name),
          'Wiring list',
          'Parts list',
        ].join('\n')}
      />
      <Section
        title="One-line drawing"
        note="a symbol opens what sized it"
        action={
          <Button
            onClick={() => {
              download(`${name}-one-line.svg`, 'image/svg+xml', sheet.drawing);
            }}
          >
            as SVG
          </Button>
        }
      >
        <OneLine svg={(later ?? sheet).drawing} chosen={chosen} onChoose={onSymbol} />
        {part && (
          <PartPanel
            part={part}
            sheet={sheet}
            onExchange={
              part.slot === ''
                ? undefined
                : () => {
                    setSlot(part.slot as Slot);
                  }
            }
            onClose={() => {
              setChosen(null);
            }}
          />
        )}
        <Choices at={at} />
      </Section>
      <Section title="What is chosen" note="the least of the library that suffices stands beside it">
        <Places sheet={sheet} fresh={fresh} onTake={onPlace} onOpen={setSlot} />
      </Section>
      {sheet.groups.map((g) => (
        <Group
          key={g.id}
          group={g}
          at={at}
          // What has nothing to take, or no drawing, does not change with what only those need.
          fresh={fresh || g.lines.every((l) => l.takes.length === 0)}
          onTake={onLine}
          drawing={drawn.has(g.id) ? sheet : undefined}
          situations={g.id === 'low_voltage' ? sheet.situations : undefined}
        />
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
    </Box>
  );
}

type Sheet = ElectricsSheet;

/** A group of lines with the fields that change them and what is drawn of it; painted anew only where one of them changed. */
const Group = memo(function Group({
  group: g,
  at,
  fresh,
  onTake,
  drawing,
  situations,
}: {
  group: ElectricsGroup;
  at: string;
  fresh: boolean;
  onTake: (line: ElectricsLine) => void;
  /** What its drawing shows. */
  drawing: Sheet | undefined;
  situations: Sheet['situations'] | undefined;
}) {
  return (
    <Section title={g.name} note={g.caution}>
      <Box sx={drawn.has(g.id) ? besideDrawing : alone}>
        <Box>
          <GroupLines group={g} fresh={fresh} onTake={onTake} />
          {g.id === 'traction' && <WiringFields at={at} />}
          {said[g.id] && (
            <Box sx={{ mt: 2 }}>
              <Row>
                <Numbers group="Electrics" at={`${at}.electrics`} keys={said[g.id] ?? []} width={170} />
              </Row>
            </Box>
          )}
        </Box>
        {drawing && (
          <Suspense fallback={<Loading what="the drawing" />}>
            <Drawings
              of={g.id}
              coordination={drawing.coordination}
              precharge={drawing.precharge}
              pressesKpa={drawing.presses_kpa}
            />
          </Suspense>
        )}
      </Box>
      {g.id === 'safety' && <InsulationTest at={at} />}
      {situations && <LoadTable situations={situations} />}
    </Section>
  );
});

function WiringFields({ at }: { at: string }) {
  const { document } = useWorkbench();
  return (
    <Box sx={{ mt: 2 }}>
      <Row>
        <Numbers group="Wiring" at={`${at}.wiring`} keys={wiringKeys(document.design)} width={150} />
      </Row>
    </Box>
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
