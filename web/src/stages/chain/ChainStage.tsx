import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { lazy, memo, Suspense, useCallback, useState } from 'react';
import { useLocation } from 'wouter';
import type { Estimate, LinkKind, PartKind } from '../../api/types';
import { Title } from '../../charts/Title';
import { useAfterPaint } from '../../common/useAfterPaint';
import { Loading } from '../../common/States';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useShared } from '../../workbench/useShared';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { ChoicesView } from './ChoicesView';
import { EnergySplit } from './EnergySplit';
import { HeadlineBands } from './HeadlineBands';
import { Findings } from '../../parts/Findings';
import { LinkSheet } from './LinkSheet';
import { NewerRecords } from './NewerRecords';
import { ProposedChain } from '../../parts/ProposedChain';
import { partsOf, useProposal } from '../../parts/useProposal';
import { linkWords, PowerPath } from './PowerPath';
import { refusalOf } from '../../units/refusal';

const ChainCharts = lazy(() => import('./ChainCharts'));
const PartPicker = lazy(() => import('../../parts/PartPicker'));

function Missing({ onChoose }: { onChoose: (part: PartKind) => void }) {
  const { document } = useWorkbench();
  const { computed } = useResults();
  const propose = useProposal();
  const d = document.design;
  const there = partsOf(d);
  const steps: [PartKind, string, string, boolean][] = [
    ['motor', 'Motor', 'sized by the torque on the hill and the speed on the road', d.motor != null],
    [
      'controller',
      'Controller',
      'must drive this kind of motor and be rated above the full-charge voltage',
      d.controller != null,
    ],
    ['module', 'Pack', 'a cell or module; then how many in series and in parallel', d.pack != null],
  ];
  return (
    <Box sx={{ maxWidth: 640 }}>
      <Typography variant="h2" gutterBottom>
        Choose the chain
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 2 }}>
        From cell to tyre the chain is as strong as its weakest link. Three parts are needed before anything can be
        predicted: choose them, or have {there.length === 0 ? 'them' : 'the rest'} proposed.
      </Typography>
      <Box sx={{ mb: 2 }}>
        <Button
          variant="contained"
          disabled={propose.isPending}
          onClick={() => {
            propose.mutate({ keep: there });
          }}
        >
          {there.length === 0 ? 'Propose a chain' : 'Propose the rest'}
        </Button>
        <Box sx={{ height: 4, mt: 1 }}>{propose.isPending && <LinearProgress aria-label="Looking for a chain" />}</Box>
      </Box>
      {steps.map(([part, word, why, done]) => (
        <Box
          key={part}
          sx={{
            display: 'flex',
            alignItems: 'center',
            gap: 2,
            py: 1.25,
            borderTop: '1px solid',
            borderColor: 'divider',
          }}
        >
          <Typography sx={{ width: 20, color: done ? 'success.main' : 'text.secondary' }}>
            {done ? '●' : '○'}
          </Typography>
          <Box sx={{ flex: 1 }}>
            <Typography sx={{ fontWeight: 650 }}>{word}</Typography>
            <Typography variant="caption" color="text.secondary">
              {part === 'motor'
                ? (d.motor?.name ?? why)
                : part === 'controller'
                  ? (d.controller?.name ?? why)
                  : (d.pack?.module.name ?? why)}
            </Typography>
          </Box>
          <Button
            variant={done ? 'text' : 'outlined'}
            onClick={() => {
              onChoose(part);
            }}
          >
            {done ? 'Change' : `Choose a ${word.toLowerCase()}`}
          </Button>
        </Box>
      ))}
      {computed.problem?.problems
        .filter((p) => !['design.motor', 'design.controller', 'design.pack'].includes(p.path))
        .map((p) => (
          <Typography key={p.path} role="alert" color="error" sx={{ mt: 1 }}>
            {refusalOf(p)}
          </Typography>
        ))}
    </Box>
  );
}

const drawings = (
  <Suspense fallback={<Loading what="the drawings" />}>
    <ChainCharts />
  </Suspense>
);

const findingsTitle = (
  <Typography variant="h2" sx={{ mb: 0.5 }}>
    Findings
  </Typography>
);

const energyTitle = (
  <Box sx={{ mt: 2, mb: 0.5 }}>
    <Title word="Where the energy goes" note="at the battery" />
  </Box>
);

type Point = Pick<Estimate['chain'], 'speed_kmh' | 'soc' | 'level_road_w'>;

/** What the drawing below shows, and at which point. */
const PathHeading = memo(function PathHeading({ speed_kmh, soc, level_road_w }: Point) {
  const system = useUnits();
  return (
    <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, mb: 0.5, flexWrap: 'wrap' }}>
      <Typography variant="h2">From cell to tyre</Typography>
      <Typography variant="caption" color="text.secondary">
        power each link lets through to the wheels: solid: continuous; hatched: peak. Click a link to change it.
      </Typography>
      <Box sx={{ flex: 1 }} />
      <Typography variant="caption" color="text.secondary" className="figures">
        at {showText(speed_kmh, 'km/h', system)}, {(soc * 100).toFixed(0)} % charge · level road takes{' '}
        {showText(level_road_w, 'W', system)}
      </Typography>
    </Box>
  );
});

interface ToldProps extends Pick<Estimate, 'findings' | 'trips'> {
  placeOf: (finding: Estimate['findings'][number]) => { word: string; open: () => void } | undefined;
}

/** The drawings beside what is found and where the energy goes. */
const Told = memo(function Told({ findings, trips, placeOf }: ToldProps) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', md: '1.15fr 1fr' },
        columnGap: 4,
        borderTop: '1px solid',
        borderColor: 'divider',
        pt: 1.5,
      }}
    >
      <Box sx={{ minWidth: 0 }}>{drawings}</Box>
      <Box sx={{ minWidth: 0 }}>
        {findingsTitle}
        <Findings findings={findings} placeOf={placeOf} />
        {energyTitle}
        <EnergySplit trips={trips} />
      </Box>
    </Box>
  );
});

export default function ChainStage() {
  const { document, id, active } = useWorkbench();
  const { computed } = useResults();
  const [, navigate] = useLocation();
  const [link, setLink] = useState<LinkKind | null>(null);
  const [part, setPart] = useState<PartKind | null>(null);
  // The claims strip follows an edit at once; this stage, heavier to draw, may come a frame later.
  const estimate = useAfterPaint(computed.estimate);
  const d = document.design;
  const layout = estimate?.pack.layout ?? '';
  const gears = estimate?.gears.length ?? 0;
  const gear = estimate?.chain.gear ?? 0;
  const driven = document.donor.driven_axle;
  const names = useShared({
    pack: `${layout} ${d.pack?.module.name ?? ''}`,
    wiring: 'between pack and controller',
    controller: d.controller?.name ?? '',
    motor: `${(d.motor_count ?? 1) > 1 ? `${String(d.motor_count)} × ` : ''}${d.motor?.name ?? ''}`,
    driveline: `gear ${String(gear)} of ${String(gears)}`,
    tyres: `${driven} driven`,
  });
  const choose = useCallback((kind: LinkKind) => {
    setLink((now) => (now === kind ? null : kind));
  }, []);
  const close = useCallback(() => {
    setLink(null);
  }, []);
  const placeOf = useCallback(
    ({ part, slot }: Estimate['findings'][number]) => {
      if (part === 'electrics')
        return {
          word: 'Go to the electrics',
          open: () => navigate(`/c/${id}/electrics/${active.label}${slot == null ? '' : `?place=${slot}`}`),
        };
      if (part === 'charger')
        return { word: 'Go to the charger', open: () => navigate(`/c/${id}/charge/${active.label}`) };
      if (part === 'layout')
        return { word: 'Go to the layout', open: () => navigate(`/c/${id}/layout/${active.label}`) };
      // What concerns a whole trip is mended where trips are.
      if (part === 'chain') return { word: 'Go to the trips', open: () => navigate(`/c/${id}/brief/${active.label}`) };
      if (!(part in linkWords)) return undefined;
      const kind = part as LinkKind;
      const open = () => {
        setLink(kind);
        // Shown first, then looked at and typed into.
        requestAnimationFrame(() => {
          const sheet = globalThis.document.getElementById('link-sheet');
          sheet?.scrollIntoView({ block: 'center' });
          sheet?.querySelector<HTMLElement>('input')?.focus({ preventScroll: true });
        });
      };
      return { word: `Open ${linkWords[kind].toLowerCase()}`, open };
    },
    [active.label, id, navigate],
  );
  const picker = part && (
    <Suspense>
      <PartPicker
        key={part}
        kind={part}
        onClose={() => {
          setPart(null);
        }}
      />
    </Suspense>
  );
  const sheet = link && <LinkSheet kind={link} onClose={close} onExchange={setPart} />;
  if (!estimate) {
    return (
      <>
        {/* What was refused stays open, so that it can be mended where it was typed. */}
        {computed.problem && sheet}
        {computed.problem ? (
          <Missing onChoose={setPart} />
        ) : (
          <Typography color="text.secondary">
            {computed.away ? 'The service does not answer; trying again.' : 'Computing …'}
          </Typography>
        )}
        {picker}
      </>
    );
  }
  const chain = estimate.chain;
  return (
    <div>
      <ProposedChain />
      <NewerRecords />
      <PathHeading speed_kmh={chain.speed_kmh} soc={chain.soc} level_road_w={chain.level_road_w} />
      <PowerPath chain={chain} names={names} chosen={link} onChoose={choose} />
      {sheet}
      <Told findings={estimate.findings} trips={estimate.trips} placeOf={placeOf} />
      <HeadlineBands />
      <ChoicesView heat={estimate.performance.heat} />
      {picker}
    </div>
  );
}
