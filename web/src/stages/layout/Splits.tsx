import {
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  FormGroup,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { splitsQuery } from '../../api/queries';
import type { LayoutSheet, PackSplit } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { WideTable } from '../../common/WideTable';
import { Said } from '../../units/Said';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { groups, useSystemWords } from './words';

/** The pack spread over the bays, and what may stand beside it: ways that come nearest to the donor's balance, and any split that is typed. */
export function Splits({ sheet }: { sheet: LayoutSheet }) {
  const { active, editAll, say } = useWorkbench();
  const { settled } = useResults();
  const [asked, setAsked] = useState(false);
  const [typed, setTyped] = useState<Record<number, string>>({});
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const words = useSystemWords();
  const may = sheet.blocks.filter((b) => b.movable);
  const others = may.map((b) => b.path).filter((path) => ticked.has(path));
  const query = useQuery({ ...splitsQuery(settled, null, others), enabled: asked });
  const counts = sheet.bays.map((b, i) => Number(typed[i] ?? b.holds));
  const modules = sheet.blocks.reduce((sum, b) => sum + (b.modules ?? 0), 0);
  const sum = counts.reduce((a, b) => a + b, 0);
  const whole = counts.every((n) => Number.isInteger(n) && n >= 0);
  const sound = whole && sum === modules && modules > 0;
  const own = useQuery({ ...splitsQuery(settled, counts), enabled: asked && sound });
  const found = query.data;
  const fresh = !query.isPlaceholderData;
  const take = (split: PackSplit) => {
    // Only the boxes: what else was placed since the splits were worked out stays where it is.
    editAll([
      [`designs.${active.id}.layout.pack`, split.layout.pack],
      [`designs.${active.id}.layout.boxes`, split.layout.boxes ?? []],
      ...split.moved.map((m): [string, unknown] => [m.path.replace(/^design\./, `designs.${active.id}.`), m.at]),
    ]);
    setTyped({});
    say('All of it lies in the bays; undo takes it back.');
  };
  const row = (s: PackSplit, key: string, first: React.ReactNode, ready: boolean) => (
    <TableRow key={key} data-testid={`split-${key}`} sx={{ '& td': { verticalAlign: 'top' } }}>
      {first}
      <TableCell align="right" className="figures">
        {words.percent(s.front_share)}
      </TableCell>
      <TableCell sx={{ color: s.over_kg > 0 || s.unplaced > 0 ? 'warning.main' : undefined }}>
        {s.over_kg > 0
          ? `▲ ${s.over.map((l) => `${l.name}: ${words.kg(l.laden_kg)} of ${words.kg(l.limit_kg)}`).join('; ')}`
          : 'none'}
        {s.unplaced > 0 && `; ▲ without a place: ${String(s.unplaced)} of those ticked`}
      </TableCell>
      <TableCell>{s.cut_strings > 0 ? `${String(s.cut_strings)} boxes hold part of one` : 'whole'}</TableCell>
      <TableCell align="right" className="figures">
        {words.m(s.cable_m)}
      </TableCell>
      <TableCell align="right">
        <Button
          disabled={!ready}
          aria-label={[
            `Take ${s.modules.join(' + ')}`,
            ...s.moved.map((m) => `${m.name} in ${sheet.bays[m.bay]?.name ?? ''}`),
          ].join(', ')}
          onClick={() => {
            take(s);
          }}
        >
          Take it
        </Button>
      </TableCell>
    </TableRow>
  );
  return (
    <Box sx={{ mt: 2 }} component="section" aria-label="The pack over the bays">
      {!asked && (
        <Button
          variant="outlined"
          onClick={() => {
            setAsked(true);
          }}
        >
          Spread the pack over the bays
        </Button>
      )}
      {asked && may.length > 0 && (
        <FormGroup row aria-label="What may move too" sx={{ alignItems: 'center', mb: 1 }}>
          <Typography component="span" sx={{ mr: 1.5 }}>
            May stand in a bay too:
          </Typography>
          {may.map((b) => (
            <FormControlLabel
              key={b.path}
              control={
                <Checkbox
                  size="small"
                  checked={ticked.has(b.path)}
                  onChange={(_, on) => {
                    const rest = [...ticked].filter((path) => path !== b.path);
                    setTicked(new Set(on ? [...rest, b.path] : rest));
                  }}
                />
              }
              label={b.name || groups[b.kind]}
            />
          ))}
        </FormGroup>
      )}
      {asked && query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {asked && query.isPending && <Loading what="the splits" />}
      {found?.none && (
        <Typography role="status">
          Nothing to spread: <Said of={found.none} />.
        </Typography>
      )}
      {found && !found.none && (
        <>
          <Typography color="text.secondary" sx={{ mb: 1 }}>
            {found.modules} modules; the donor with the same load has {words.percent(found.donor_front_share)} in front.{' '}
            {found.step === 1
              ? `All ${String(found.tried)} ways were tried.`
              : `Modules moved ${String(found.step)} at a time, ${String(found.tried)} ways were tried; one between them may come ${words.percent(found.may_miss)} nearer.`}{' '}
            First nothing over a rating, then a place for all, then whole strings, then the donor’s balance, then short
            cables.
            {found.left_alone.length > 0 && ` Too many to move at once: ${found.left_alone.join(', ')} stay.`}
          </Typography>
          <WideTable aria-label="Ways to spread the pack">
            <TableHead>
              <TableRow>
                {sheet.bays.map((b, i) => (
                  <TableCell key={String(i)} align="right">
                    {b.name}
                  </TableCell>
                ))}
                <TableCell align="right">in front, laden</TableCell>
                <TableCell>over a rating</TableCell>
                <TableCell>strings</TableCell>
                <TableCell align="right">cable</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {found.splits.map((s) =>
                row(
                  s,
                  // Ways that differ in what stands beside the pack alone have the same counts.
                  [s.modules.join('-'), ...s.moved.map((m) => `${m.path}-${String(m.bay)}`)].join(' '),
                  s.modules.map((n, i) => (
                    <TableCell key={String(i)} align="right" className="figures">
                      {n === 0 ? '–' : n}
                      {s.moved
                        .filter((m) => m.bay === i)
                        .map((m) => (
                          <Typography key={m.path} variant="caption" component="div" color="text.secondary">
                            + {m.name}
                          </Typography>
                        ))}
                    </TableCell>
                  )),
                  fresh,
                ),
              )}
              {own.data?.splits[0] && sound ? (
                row(
                  own.data.splits[0],
                  'own',
                  <OwnCounts {...{ sheet, typed, counts, setTyped }} room={found.room} />,
                  !own.isPlaceholderData,
                )
              ) : (
                <TableRow>
                  <OwnCounts {...{ sheet, typed, counts, setTyped }} room={found.room} />
                  <TableCell colSpan={5} sx={{ color: 'warning.main' }}>
                    {whole
                      ? `${String(sum)} of ${String(modules)} modules: as many as the pack has are accepted`
                      : 'whole numbers are accepted'}
                  </TableCell>
                </TableRow>
              )}
            </TableBody>
          </WideTable>
        </>
      )}
    </Box>
  );
}

/** Modules a bay, as typed. */
function OwnCounts({
  sheet,
  typed,
  counts,
  setTyped,
  room,
}: {
  sheet: LayoutSheet;
  typed: Record<number, string>;
  counts: number[];
  setTyped: (typed: Record<number, string>) => void;
  /** Modules that each bay holds. */
  room: number[];
}) {
  const over = (i: number) => (counts[i] ?? 0) > (room[i] ?? 0);
  return sheet.bays.map((b, i) => (
    <TableCell key={String(i)} align="right">
      <TextField
        label="own"
        value={typed[i] ?? String(counts[i])}
        helperText={over(i) ? `▲ room for ${String(room[i] ?? 0)}` : undefined}
        onChange={(e) => {
          setTyped({ ...typed, [i]: e.target.value });
        }}
        sx={{ width: 74 }}
        slotProps={{
          inputLabel: { shrink: true },
          formHelperText: { sx: { color: 'warning.main', mx: 0, whiteSpace: 'nowrap' } },
          htmlInput: { inputMode: 'numeric', 'aria-label': `Modules in ${b.name}`, autoComplete: 'off' },
        }}
      />
    </TableCell>
  ));
}
