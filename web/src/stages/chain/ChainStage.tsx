import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { memo, useDeferredValue, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Estimate, LinkKind, PartKind } from '../../api/types';
import { type Line, SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import type { Sheet } from '../../theme';
import { convert, figures, showText, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { ChoicesView } from './ChoicesView';
import { EnergySplit } from './EnergySplit';
import { HeadlineBands } from './HeadlineBands';
import { Findings } from '../../parts/Findings';
import { LinkSheet } from './LinkSheet';
import { NewerRecords } from './NewerRecords';
import { PartPicker } from '../../parts/PartPicker';
import { ProposedChain } from '../../parts/ProposedChain';
import { partsOf, useProposal } from '../../parts/useProposal';
import { linkWords, PowerPath } from './PowerPath';

function useSheet(): Sheet {
  const theme = useTheme();
  // With CSS variables the colours follow the scheme by themselves; only lists of them have to be read one by one.
  const vars = theme.vars?.palette.sheet ?? theme.palette.sheet;
  return vars;
}

const PullChart = memo(function PullChart({ curves }: { curves: Estimate['curves'] }) {
  const system = useUnits();
  const sheet = useSheet();
  const force = shownUnit('kN', system);
  const speedUnit = shownUnit('km/h', system);
  const x = curves.speed_kmh.map((v) => convert(v, 'km/h', speedUnit));
  const y = (n: number | null | undefined) => (n == null ? null : convert(n, 'N', force));
  const top = Math.max(...curves.gears.flatMap((g) => g.force_n.map((f) => f ?? 0)), 1);
  const yMax = y(top * 1.08) ?? 1;
  const gears: Line[] = curves.gears.map((g, i) => ({
    id: `gear-${String(g.gear)}-${String(g.range)}`,
    label: curves.gears.length === 1 ? 'pull' : `gear ${String(g.gear)}`,
    data: g.force_n.map(y),
    color: sheet.gears[i % sheet.gears.length] ?? 'currentColor',
    labelAt: Math.min(
      2 + 3 * i,
      Math.max(
        0,
        g.force_n.findLastIndex((f) => f !== null),
      ),
    ),
    width: 2,
  }));
  const grades: Line[] = curves.grades.map((g) => ({
    id: `grade-${String(g.grade_percent)}`,
    label: `${String(g.grade_percent)} %`,
    data: g.force_n.map((f) => (f > top * 1.08 ? null : y(f))),
    color: sheet.strong,
    dashed: g.grade_percent > 0,
    width: 1,
  }));
  const continuous: Line = {
    id: 'continuous',
    label: 'continuous',
    data: curves.continuous_n.map((f) => (f > 0 ? y(f) : null)),
    color: sheet.signal,
    width: 1.25,
    labelled: false,
  };
  const best = Math.max(...curves.gears.map((g) => g.force_n[0] ?? 0));
  return (
    <SheetLines
      title={
        <Title word="Tractive force" note="by gear at peak; red: best gear, continuous; dashed: what grades take" />
      }
      summary={`From rest the wheels pull at most ${figures(y(best) ?? 0)} ${force}. The tyres slip at ${figures(y(curves.grip_n) ?? 0)} ${force}.`}
      x={x}
      xUnit={speedUnit}
      yWord="Tractive force"
      yUnit={force}
      yMax={yMax}
      lines={[...grades, continuous, ...gears]}
      height={262}
    />
  );
});

/** What holds the pull back, by name, from rest to the top speed. */
function Binding({ stretches }: { stretches: Estimate['curves']['binding'] }) {
  const system = useUnits();
  return (
    <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 0.5 }}>
      limited by{' '}
      {stretches.map((s, i) => (
        <span key={String(i)}>
          {i > 0 && ', '}
          <b>{s.word}</b> (gear {String(s.gear)}) to {showText(s.to_kmh, 'km/h', system)}
        </span>
      ))}
    </Typography>
  );
}

const RunChart = memo(function RunChart({ run }: { run: Estimate['curves']['run'] }) {
  const system = useUnits();
  const sheet = useSheet();
  const unit = shownUnit('km/h', system);
  const x = run.time_s;
  if (x.length < 2) return null;
  return (
    <SheetLines
      title={<Title word="Speed over time" note="from rest, level road, the quickest use of the gears" />}
      summary={`Reaches ${showText(run.speed_kmh.at(-1) ?? 0, 'km/h', system)} after ${figures(x.at(-1) ?? 0)} s.`}
      x={x}
      xUnit="s"
      yWord="Speed"
      yUnit={unit}
      lines={[
        {
          id: 'speed',
          label: unit,
          data: run.speed_kmh.map((v) => convert(v, 'km/h', unit)),
          color: sheet.strong,
          width: 2,
          labelled: false,
        },
      ]}
      height={150}
    />
  );
});

function Missing({ onChoose }: { onChoose: (part: PartKind) => void }) {
  const { document, computed } = useWorkbench();
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
            {p.message}
          </Typography>
        ))}
    </Box>
  );
}

export default function ChainStage() {
  const { computed, document, id, active } = useWorkbench();
  const navigate = useNavigate();
  const system = useUnits();
  const [link, setLink] = useState<LinkKind | null>(null);
  const [part, setPart] = useState<PartKind | null>(null);
  // The claims strip follows an edit at once; this stage, heavier to draw, may come a frame later.
  const estimate = useDeferredValue(computed.estimate);
  const d = document.design;
  const picker = (
    <PartPicker
      kind={part}
      onClose={() => {
        setPart(null);
      }}
    />
  );
  const sheet = link && (
    <LinkSheet
      kind={link}
      onClose={() => {
        setLink(null);
      }}
      onExchange={setPart}
    />
  );
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
  const placeOf = ({ part }: Estimate['findings'][number]) => {
    if (part === 'charger')
      return { word: 'Go to the charger', open: () => void navigate(`/c/${id}/charge/${active.label}`) };
    // What concerns a whole trip is mended where trips are.
    if (part === 'chain')
      return { word: 'Go to the trips', open: () => void navigate(`/c/${id}/brief/${active.label}`) };
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
  };
  const names = {
    pack: `${estimate.pack.layout} ${d.pack?.module.name ?? ''}`,
    wiring: 'between pack and controller',
    controller: d.controller?.name ?? '',
    motor: `${(d.motor_count ?? 1) > 1 ? `${String(d.motor_count)} × ` : ''}${d.motor?.name ?? ''}`,
    driveline: `gear ${String(chain.gear)} of ${String(estimate.gears.length)}`,
    tyres: `${document.donor.driven_axle} driven`,
  };
  return (
    <Box>
      <ProposedChain />
      <NewerRecords />
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, mb: 0.5, flexWrap: 'wrap' }}>
        <Typography variant="h2">From cell to tyre</Typography>
        <Typography variant="caption" color="text.secondary">
          power each link lets through to the wheels: solid: continuous; hatched: peak. Click a link to change it.
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Typography variant="caption" color="text.secondary" className="figures">
          at {showText(chain.speed_kmh, 'km/h', system)}, {(chain.soc * 100).toFixed(0)} % charge · level road takes{' '}
          {showText(chain.level_road_w, 'W', system)}
        </Typography>
      </Box>
      <PowerPath
        chain={chain}
        names={names}
        chosen={link}
        onChoose={(kind) => {
          setLink(link === kind ? null : kind);
        }}
      />
      {sheet}
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
        <Box sx={{ minWidth: 0 }}>
          <PullChart curves={estimate.curves} />
          <Binding stretches={estimate.curves.binding} />
          <Box sx={{ mt: 1.5 }}>
            <RunChart run={estimate.curves.run} />
          </Box>
        </Box>
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="h2" sx={{ mb: 0.5 }}>
            Findings
          </Typography>
          <Findings findings={estimate.findings} placeOf={placeOf} />
          <Box sx={{ mt: 2, mb: 0.5 }}>
            <Title word="Where the energy goes" note="at the battery" />
          </Box>
          <EnergySplit trips={estimate.trips} />
        </Box>
      </Box>
      <HeadlineBands />
      <ChoicesView heat={estimate.performance.heat} />
      {picker}
    </Box>
  );
}
