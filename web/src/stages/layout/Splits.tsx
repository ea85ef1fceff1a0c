import { Box, Button, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { splitsQuery } from '../../api/queries';
import type { LayoutSheet, PackSplit } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { WideTable } from '../../common/WideTable';
import { Said } from '../../units/Said';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { useSystemWords } from './words';

/** The pack spread over the bays: splits that come nearest to the donor's balance, and any other that is typed. */
export function Splits({ sheet }: { sheet: LayoutSheet }) {
  const { settled, active, editAll, say } = useWorkbench();
  const [asked, setAsked] = useState(false);
  const [typed, setTyped] = useState<Record<number, string>>({});
  const words = useSystemWords();
  const query = useQuery({ ...splitsQuery(settled, null), enabled: asked });
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
    ]);
    setTyped({});
    say('The boxes lie in the bays; undo takes them back.');
  };
  const row = (s: PackSplit, key: string, first: React.ReactNode, ready: boolean) => (
    <TableRow key={key} data-testid={`split-${key}`}>
      {first}
      <TableCell align="right" className="figures">
        {words.percent(s.front_share)}
      </TableCell>
      <TableCell sx={{ color: s.over_kg > 0 ? 'warning.main' : undefined }}>
        {s.over_kg > 0
          ? `▲ ${s.over.map((l) => `${l.name}: ${words.kg(l.laden_kg)} of ${words.kg(l.limit_kg)}`).join('; ')}`
          : 'none'}
      </TableCell>
      <TableCell>{s.cut_strings > 0 ? `${String(s.cut_strings)} boxes hold part of one` : 'whole'}</TableCell>
      <TableCell align="right" className="figures">
        {words.m(s.cable_m)}
      </TableCell>
      <TableCell align="right">
        <Button
          disabled={!ready}
          aria-label={`Take ${s.modules.join(' + ')}`}
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
              ? `All ${String(found.tried)} splits were tried.`
              : `Moved ${String(found.step)} at a time, ${String(found.tried)} splits were tried; one between them may come ${words.percent(found.may_miss)} nearer.`}{' '}
            First nothing over a rating, then whole strings, then the donor’s balance, then short cables.
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
                  s.modules.join('-'),
                  s.modules.map((n, i) => (
                    <TableCell key={String(i)} align="right" className="figures">
                      {n === 0 ? '–' : n}
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
