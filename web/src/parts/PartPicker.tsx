import { Box, Button, ButtonBase, Drawer, IconButton, LinearProgress, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { alternativesQuery, libraryQuery } from '../api/queries';
import type { Alternative, Claim, Part, PartKind, PartView } from '../api/types';
import { absentWord, useClaimFigure, verdicts } from '../common/claims';
import { Failed } from '../common/States';
import { figures, showText } from '../units/units';
import { useUnits } from '../units/UnitsContext';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { OwnPartDialog } from './OwnPartDialog';
import { summary } from './summary';

const titles: Record<PartKind, string> = {
  motor: 'Motor',
  controller: 'Controller',
  module: 'Cell or module',
  charger: 'Charger',
};

/** Changes of the verdicts against those in force, worded; figures of the goals that a part moves. */
function Effects({ alternative, before }: { alternative: Alternative; before: Claim[] }) {
  const figure = useClaimFigure();
  const outcome = alternative.outcome;
  if (!outcome) return <Typography variant="caption">{alternative.refusal?.split('\n')[0]}</Typography>;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.5 }}>
      {outcome.claims.map((c) => {
        const old = before.find((b) => b.goal === c.goal);
        const worded = (x: Claim) => (x.predicted == null ? absentWord(x.figure) : figure(x.predicted, x.unit).text);
        const moved = !old || worded(old) !== worded(c);
        const v = verdicts[c.verdict];
        const flipped = old !== undefined && old.verdict !== c.verdict;
        const shown = c.predicted == null ? { text: absentWord(c.figure), unit: '' } : figure(c.predicted, c.unit);
        if (!moved && !flipped) return null;
        return (
          <Typography
            key={c.goal}
            variant="caption"
            component="span"
            sx={{ whiteSpace: 'nowrap' }}
            color="text.secondary"
          >
            {c.name}{' '}
            <Box component="span" className="figures" sx={{ color: 'text.primary' }}>
              {shown.text} {shown.unit}
            </Box>{' '}
            <Box component="span" sx={{ color: v.color, fontWeight: flipped ? 700 : 400 }}>
              {flipped && verdicts[old.verdict].glyph}
              {flipped && '→'}
              {v.glyph}
              {flipped && ` ${v.word}`}
            </Box>
          </Typography>
        );
      })}
    </Box>
  );
}

function Row({
  part,
  alternative,
  current,
  before,
  cost,
  onPick,
}: {
  part: Part;
  alternative: Alternative | undefined;
  current: boolean;
  before: Claim[];
  cost: number | undefined;
  onPick: () => void;
}) {
  const system = useUnits();
  const { draft } = useWorkbench();
  const outcome = alternative?.outcome;
  const delta = outcome && cost !== undefined ? outcome.cost - cost : null;
  return (
    <ButtonBase
      onClick={onPick}
      aria-label={`${current ? 'In use: ' : 'Use '}${part.name}`}
      sx={{
        display: 'block',
        width: '100%',
        textAlign: 'left',
        px: 2.5,
        py: 1,
        borderTop: '1px solid',
        borderColor: 'divider',
        bgcolor: current ? 'background.default' : 'transparent',
        '&:hover': { bgcolor: 'background.default' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Typography sx={{ fontWeight: 650 }}>{part.name}</Typography>
        {current && <Typography variant="caption">in use</Typography>}
        <Box sx={{ flex: 1 }} />
        {outcome && (
          <Typography variant="caption" className="figures" sx={{ whiteSpace: 'nowrap' }}>
            {outcome.met} of {outcome.claims.length} met
          </Typography>
        )}
        <Typography
          className="figures"
          sx={{ fontSize: '0.8rem', width: 84, textAlign: 'right', whiteSpace: 'nowrap' }}
        >
          {delta === null
            ? part.price
              ? figures(part.price, 5)
              : 'no price'
            : Math.abs(delta) < 0.5
              ? '± 0'
              : `${delta > 0 ? '+' : '−'} ${figures(Math.abs(delta), 5)}`}{' '}
          {delta !== null ? draft.brief.currency : part.price ? (part.currency ?? draft.brief.currency) : ''}
        </Typography>
      </Box>
      <Typography variant="caption" color="text.secondary" component="div">
        {summary(part, system)}
      </Typography>
      {alternative && !current && <Effects alternative={alternative} before={before} />}
      {outcome?.stops.map((s) => (
        <Typography key={s} variant="caption" component="div" sx={{ color: 'error.main', fontWeight: 600 }}>
          ■ {s}
        </Typography>
      ))}
    </ButtonBase>
  );
}

/** Lists the library's parts for one link with what each would do, before it is chosen. */
export function PartPicker({ kind, onClose }: { kind: PartKind | null; onClose: () => void }) {
  const { document, editDesign, computed } = useWorkbench();
  const client = useQueryClient();
  // Alternatives are judged by their central figures, so they are held against those.
  const central = computed.estimate?.claims ?? [];
  const system = useUnits();
  const [search, setSearch] = useState('');
  const [own, setOwn] = useState(false);
  const library = useQuery({ ...libraryQuery(), enabled: kind !== null });
  const complete = computed.estimate !== undefined;
  const alternatives = useQuery({
    ...alternativesQuery(document, kind ?? 'motor'),
    enabled: kind !== null && complete,
  });
  const byName = new Map((alternatives.isPlaceholderData ? [] : (alternatives.data ?? [])).map((a) => [a.name, a]));
  const parts: PartView[] = (library.data?.parts ?? []).filter((p) => !p.retired && p.record.part === kind);
  const words = search.toLowerCase();
  const rank = (p: PartView) => {
    const o = byName.get(p.record.name)?.outcome;
    return o ? o.met - 100 * Math.min(o.stops.length, 1) : -1000;
  };
  const listed = parts
    .filter((p) => `${p.record.name} ${summary(p.record, system)}`.toLowerCase().includes(words))
    .sort(
      (a, b) =>
        rank(b) - rank(a) ||
        (byName.get(a.record.name)?.outcome?.cost ?? 0) - (byName.get(b.record.name)?.outcome?.cost ?? 0),
    );
  const design = document.design;
  const current = kind === 'module' ? design.pack?.module.name : kind === null ? undefined : design[kind]?.name;

  const pick = async (part: Part) => {
    const { part: what, ...record } = part;
    if (what === 'module') {
      // How many in series and in parallel is the service's to say.
      const all = await client.fetchQuery(alternativesQuery(document, 'module'));
      editDesign('pack', all.find((a) => a.name === part.name)?.design.pack);
    } else {
      editDesign(what, record);
    }
    onClose();
  };

  return (
    <Drawer
      anchor="right"
      open={kind !== null}
      onClose={onClose}
      slotProps={{
        paper: { sx: { width: { xs: '100%', sm: 560 } }, 'aria-labelledby': 'picker-title', role: 'dialog' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', px: 2.5, pt: 2, pb: 1, gap: 2 }}>
        <Typography variant="h2" id="picker-title">
          {kind ? titles[kind] : ''}
        </Typography>
        <TextField
          autoFocus
          placeholder="search"
          value={search}
          onChange={(e) => {
            setSearch(e.target.value);
          }}
          slotProps={{ htmlInput: { 'aria-label': 'Search parts' } }}
          sx={{ flex: 1 }}
        />
        <Button
          onClick={() => {
            setOwn(true);
          }}
        >
          Own part …
        </Button>
        <IconButton onClick={onClose} aria-label="Close" size="small" sx={{ fontSize: 14, width: 30 }}>
          ✕
        </IconButton>
      </Box>
      <Box sx={{ height: 4 }}>
        {alternatives.isFetching && <LinearProgress aria-label="Computing what each part would do" />}
      </Box>
      <Typography variant="caption" color="text.secondary" sx={{ px: 2.5, pb: 1 }}>
        {complete
          ? 'What each would do to the goals; most goals met first, then the cheapest. Figures that stay are left out.'
          : 'What each would do is told once motor, controller and pack are chosen.'}
        {computed.estimate &&
          ` Now ${String(central.filter((c) => c.verdict === 'met').length)} of ${String(central.length)} met, ${showText(computed.estimate.masses.converted_kg, 'kg', system, 4)}.`}
      </Typography>
      {library.isError && <Failed error={library.error} onRetry={() => void library.refetch()} />}
      <Box sx={{ overflow: 'auto' }}>
        {listed.map((p) => (
          <Row
            key={p.id ?? p.record.name}
            part={p.record}
            alternative={byName.get(p.record.name)}
            current={p.record.name === current}
            before={central}
            cost={computed.estimate?.cost.net}
            onPick={() => {
              void pick(p.record);
            }}
          />
        ))}
        {library.data && listed.length === 0 && (
          <Typography sx={{ p: 2.5 }}>No part matches &ldquo;{search}&rdquo;.</Typography>
        )}
      </Box>
      <OwnPartDialog
        kind={own ? kind : null}
        onClose={() => {
          setOwn(false);
        }}
        onUse={(part) => {
          void pick(part);
        }}
      />
    </Drawer>
  );
}
