import { Box, Button, Drawer, IconButton, LinearProgress, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { alternativesQuery } from '../api/queries';
import { libraryQuery } from '../api/stored';
import type { Part, PartKind, PartView } from '../api/types';
import { Failed } from '../common/States';
import { useGrowing } from '../common/useGrowing';
import { showText } from '../units/units';
import { useUnits } from '../units/UnitsContext';
import { useSettled } from '../workbench/useSettled';
import { useResults, useWorkbench } from '../workbench/WorkbenchContext';
import { BenchDialog } from './BenchDialog';
import { type Filter, kindsAmong, passes } from './filters';
import { OwnPartDialog } from './OwnPartDialog';
import { PartChoice } from './PartChoice';
import { PickerFilter } from './PickerFilter';
import { summary } from './summary';

const titles: Record<PartKind, string> = {
  motor: 'Motor',
  controller: 'Controller',
  module: 'Cell or module',
  charger: 'Charger',
};

/** As many parts as the service tries in a design at once. */
const mostTried = 300;

/** Lists the library's parts for one link with what each would do, before it is chosen. */
export default function PartPicker({ kind, onClose }: { kind: PartKind; onClose: () => void }) {
  const { document, editAll, editDesign, active, say } = useWorkbench();
  const { computed } = useResults();
  const client = useQueryClient();
  // Alternatives are judged by their central figures, so they are held against those.
  const central = computed.estimate?.claims ?? [];
  const system = useUnits();
  const [filter, setFilter] = useState<Filter>({ words: '', kind: '' });
  const [own, setOwn] = useState(false);
  const library = useQuery(libraryQuery());
  const complete = computed.estimate !== undefined;
  const parts: PartView[] = (library.data?.parts ?? []).filter((p) => !p.retired && p.record.part === kind);
  const passing = parts.filter((p) => passes(p.record, filter, `${p.record.name} ${summary(p.record, system)}`));
  // Of very many the service tries those nearest in size; who narrows the list has what is left tried.
  const narrowed = parts.length > mostTried && passing.length < parts.length;
  const names = useSettled(
    narrowed
      ? passing
          .slice(0, mostTried)
          .map((p) => p.record.name)
          .join('\n')
      : '',
    300,
  );
  const alternatives = useQuery({
    ...alternativesQuery(document, kind, names === '' ? undefined : names.split('\n')),
    enabled: complete,
  });
  const byName = new Map((alternatives.isPlaceholderData ? [] : (alternatives.data ?? [])).map((a) => [a.name, a]));
  const rank = (p: PartView) => {
    const o = byName.get(p.record.name)?.outcome;
    return o ? o.met - 100 * Math.min(o.stops.length, 1) : -1000;
  };
  const sought = filter.words.trim().toLowerCase();
  const named = (p: PartView) => sought !== '' && p.record.name.toLowerCase().includes(sought);
  const listed = [...passing].sort(
    (a, b) =>
      // Who wrote a name wants that part first.
      Number(named(b)) - Number(named(a)) ||
      rank(b) - rank(a) ||
      (byName.get(a.record.name)?.outcome?.cost ?? 0) - (byName.get(b.record.name)?.outcome?.cost ?? 0),
  );
  const kinds = kindsAmong(parts.map((p) => p.record));
  const { shown, mark } = useGrowing<HTMLDivElement>(listed.length, `${kind} ${JSON.stringify(filter)}`);
  const design = document.design;
  const current = kind === 'module' ? design.pack?.module.name : design[kind]?.name;

  const pick = async (part: Part) => {
    const { part: what, ...record } = part;
    if (what === 'module') {
      // How many in series and in parallel is the service's to say.
      const all = await client.fetchQuery(alternativesQuery(document, 'module', [part.name]));
      const pack = all.find((a) => a.name === part.name)?.design.pack;
      editDesign('pack', pack);
      if (pack && document.design.pack) {
        say(
          `${String(pack.modules_in_series)} in series, ${String(pack.strings_in_parallel ?? 1)} in parallel now: volts and energy as near as before. The window is that of its chemistry; undo brings the old pack back.`,
        );
      }
    } else if (what === 'motor') {
      // Where it sits is the service's to say as well: a hub motor goes into the wheels, without the donor's gears.
      const all = await client.fetchQuery(alternativesQuery(document, 'motor', [part.name]));
      const next = all.find((a) => a.name === part.name)?.design;
      const moved = next && next.motor_place !== (document.design.motor_place ?? 'shaft');
      const seat = ['motor_place', 'motor_count', 'controller_count', 'driveline'] as const;
      editAll([
        [`designs.${active.id}.motor`, record],
        [`designs.${active.id}.proposed`, undefined],
        ...(moved ? seat.map((key): [string, unknown] => [`designs.${active.id}.${key}`, next[key] ?? undefined]) : []),
      ]);
      if (moved) {
        say(
          next.motor_place === 'shaft'
            ? 'Ahead of the donor’s driveline now; undo brings the wheels back.'
            : `${String(next.motor_count ?? 1)} in the wheels now, without the donor’s gears; undo brings them back.`,
        );
      }
    } else {
      editDesign(what, record);
    }
    onClose();
  };

  return (
    <Drawer
      anchor="right"
      open
      onClose={onClose}
      slotProps={{
        paper: { sx: { width: { xs: '100%', sm: 560 } }, 'aria-labelledby': 'picker-title', role: 'dialog' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', px: 2.5, pt: 2, pb: 1, gap: 2 }}>
        <Typography variant="h2" id="picker-title">
          {titles[kind]}
        </Typography>
        <TextField
          autoFocus
          placeholder="search"
          value={filter.words}
          onChange={(e) => {
            setFilter({ ...filter, words: e.target.value });
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
        {kind === 'motor' && <BenchDialog label="Bench test …" onKept={onClose} />}
        <IconButton onClick={onClose} aria-label="Close" size="small" sx={{ fontSize: 14, width: 30 }}>
          ✕
        </IconButton>
      </Box>
      <PickerFilter kind={kind} kinds={kinds} filter={filter} onChange={setFilter} />
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
        {listed.slice(0, shown).map((p) => (
          <PartChoice
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
        {shown < listed.length && (
          <Typography ref={mark} variant="caption" component="div" color="text.secondary" sx={{ px: 2.5, py: 1 }}>
            {listed.length - shown} more
          </Typography>
        )}
        {library.data && listed.length === 0 && (
          <Typography sx={{ p: 2.5 }}>
            No part passes{filter.words === '' ? '' : <> &ldquo;{filter.words}&rdquo;</>}. Ask for less, or enter an own
            part.
          </Typography>
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
