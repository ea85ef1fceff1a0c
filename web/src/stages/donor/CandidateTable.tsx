import { Box, Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { Fragment } from 'react';
import type { CandidateRow } from '../../api/types';
import { useDimmed } from '../../common/useDimmed';
import { WideTable } from '../../common/WideTable';
import { RemoveButton } from '../../fields/RemoveButton';
import { Said } from '../../units/Said';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { CandidateFields } from './CandidateFields';

/** Id under which the service answers of the donor in hand. */
export const inHand = 'in-hand';

const limiting = {
  gross: 'gross mass',
  front_axle: 'front axle',
  rear_axle: 'rear axle',
  front_tyre: 'front tyres',
  rear_tyre: 'rear tyres',
} as const;

interface Props {
  rows: CandidateRow[];
  /** Whether the rows belong to what is typed. */
  fresh: boolean;
  /** Whose chain is being chosen. */
  waiting: string[];
  /** For whom nothing that was looked at does even a part of it. */
  without: string[];
  /** Whose chain could not be chosen now. */
  failed: string[];
  /** Whose chain does a part of the brief. */
  partly: string[];
  /** Whose fields are shown. */
  open: string | null;
  onOpen: (id: string | null) => void;
  onTake: (id: string) => void;
}

/** Candidates in the order of their rank, each with its figures, what sets it apart, and its fields to be filled in. */
export function CandidateTable({ rows, fresh, waiting, without, failed, partly, open, onOpen, onTake }: Props) {
  const dimmed = useDimmed(!fresh);
  const { draft, edit } = useWorkbench();
  const system = useUnits();
  const candidates = draft.shortlist.candidates ?? [];
  const money = (x: number) => `${figures(Math.round(x), 6)} ${draft.brief.currency ?? ''}`;
  const first = draft.brief.trips?.[0];
  const kg = (x: number) => showText(x, 'kg', system, 3);
  const chainOf = (row: CandidateRow) => {
    if (row.id === inHand) return 'the chain in hand';
    if (waiting.includes(row.id)) return 'a chain is being chosen';
    if (row.own_chain)
      return partly.includes(row.id) ? 'the chain chosen does a part of the brief' : 'a chain chosen for it';
    if (failed.includes(row.id)) return 'no chain could be chosen now: with the one in hand';
    return without.includes(row.id) ? 'no chain does it: with the one in hand' : 'with the chain in hand';
  };
  // What was just added stands there before the service has answered.
  const listed = [
    ...rows.filter((r) => r.id === inHand || candidates.some((c) => c.id === r.id)),
    ...candidates
      .filter((c) => !rows.some((r) => r.id === c.id))
      .map((c) => ({ id: c.id, name: c.donor.name, place: 0, own_chain: false, reasons: [] }) as CandidateRow),
  ];
  return (
    <WideTable
      aria-label="Candidates by rank"
      aria-busy={!fresh}
      sx={{ mt: 1, '& td': { verticalAlign: 'top' }, '& .figures': { whiteSpace: 'nowrap' } }}
    >
      <TableHead>
        <TableRow>
          <TableCell>Vehicle</TableCell>
          <TableCell align="right">goals met</TableCell>
          <TableCell align="right">uses</TableCell>
          <TableCell align="right">goes{first && <>, {first.name}</>}</TableCell>
          <TableCell align="right">pack</TableCell>
          <TableCell align="right">modules its bays hold</TableCell>
          <TableCell align="right">state</TableCell>
          <TableCell align="right">all in</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {listed.map((row) => {
          const index = candidates.findIndex((c) => c.id === row.id);
          const donor = row.id === inHand ? draft.donor : candidates[index]?.donor;
          const f = row.figures;
          const shown = open === row.id;
          return (
            <Fragment key={row.id}>
              <TableRow data-testid={`candidate-${row.id}`} sx={{ '& > td': { borderBottom: 0, pb: 0 }, ...dimmed }}>
                <TableCell sx={{ minWidth: 200 }}>
                  <b>
                    {row.place > 0 ? `${String(row.place)}. ` : ''}
                    {donor?.name ?? row.name}
                  </b>
                  <Typography variant="caption" color="text.secondary" component="div">
                    {row.id === inHand ? 'the donor in hand, ' : ''}
                    {chainOf(row)}
                    {f && (f.gears_kept > 0 ? `; its ${String(f.gears_kept)} gears stay` : '; without its gears')}
                  </Typography>
                </TableCell>
                {f ? (
                  <>
                    <TableCell align="right" className="figures">
                      {f.met} of {f.asked}
                      {f.missed.length > 0 && (
                        <Typography variant="caption" component="div" sx={{ color: 'error.main' }}>
                          ▲ {f.missed.length} {f.missed.length === 1 ? 'must' : 'musts'} missed
                        </Typography>
                      )}
                      {f.stops > 0 && (
                        <Typography variant="caption" component="div" sx={{ color: 'error.main' }}>
                          ■ {f.stops} {f.stops === 1 ? 'stop' : 'stops'}
                        </Typography>
                      )}
                    </TableCell>
                    <TableCell align="right" className="figures">
                      {f.wh_per_km == null ? '–' : showText(f.wh_per_km, 'Wh/km', system, 3)}
                    </TableCell>
                    <TableCell align="right" className="figures">
                      {f.range_km == null ? '–' : showText(f.range_km, 'km', system, 3)}
                    </TableCell>
                    <TableCell align="right" className="figures">
                      {kg(f.pack_kg)}
                      <Typography
                        variant="caption"
                        component="div"
                        sx={{
                          color: f.pack_room && f.pack_room.most_kg < f.pack_kg ? 'error.main' : 'text.secondary',
                        }}
                      >
                        {f.pack_room
                          ? `${f.pack_room.most_kg < f.pack_kg ? '▲ ' : ''}up to ${kg(f.pack_room.most_kg)}: ${limiting[f.pack_room.limited_by]}`
                          : 'no rating known'}
                      </Typography>
                    </TableCell>
                    <TableCell align="right" className="figures">
                      {f.bays_hold ? `${String(f.bays_hold[0])}, it has ${String(f.bays_hold[1])}` : 'not measured'}
                    </TableCell>
                  </>
                ) : (
                  <TableCell colSpan={5} sx={{ color: row.refused == null ? 'text.secondary' : 'error.main' }}>
                    {row.refused ?? 'being worked out'}
                  </TableCell>
                )}
                <TableCell align="right" className="figures">
                  {row.condition == null ? 'not seen' : `${row.condition.toFixed(1)} of 5`}
                </TableCell>
                <TableCell align="right" className="figures">
                  {f?.total == null ? 'price?' : money(f.total)}
                  {f && (
                    <Typography variant="caption" color="text.secondary" component="div">
                      chain {money(f.net)}
                    </Typography>
                  )}
                </TableCell>
              </TableRow>
              <TableRow>
                <TableCell colSpan={8} sx={{ pt: 0.5 }}>
                  <Box sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
                    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, flex: 1 }}>
                      {row.reasons.map((r) => (
                        <Typography
                          key={JSON.stringify(r.words)}
                          variant="caption"
                          sx={{ color: r.lifts < 0 ? 'warning.main' : 'success.main' }}
                        >
                          {r.lifts < 0 ? '▼' : '▲'} <Said of={r.words} />
                        </Typography>
                      ))}
                    </Box>
                    {row.id !== inHand && (
                      <>
                        <Button
                          disabled={!fresh}
                          aria-label={`Make ${donor?.name ?? ''} the donor`}
                          onClick={() => {
                            onTake(row.id);
                          }}
                        >
                          Make it the donor
                        </Button>
                        <Button
                          aria-expanded={shown}
                          aria-label={`${shown ? 'Fold' : 'Edit'} ${donor?.name ?? ''}`}
                          onClick={() => {
                            onOpen(shown ? null : row.id);
                          }}
                        >
                          {shown ? 'Fold' : 'Edit'}
                        </Button>
                        <RemoveButton
                          what={donor?.name ?? row.name}
                          onClick={() => {
                            edit(`shortlist.candidates.${String(index)}`, undefined);
                          }}
                        />
                      </>
                    )}
                  </Box>
                  {shown && index >= 0 && <CandidateFields at={`shortlist.candidates.${String(index)}.donor`} />}
                </TableCell>
              </TableRow>
            </Fragment>
          );
        })}
      </TableBody>
    </WideTable>
  );
}
