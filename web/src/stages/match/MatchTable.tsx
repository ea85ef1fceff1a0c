import {
  Box,
  Button,
  ButtonBase,
  Checkbox,
  ListItemText,
  MenuItem,
  Select,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TableSortLabel,
  Typography,
} from '@mui/material';
import { Fragment, useState } from 'react';
import type { AxisInfo, Match, Sentence } from '../../api/types';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { Details, Held } from './MatchDetails';
import { keyOf } from './plane';
import { type Axis, count, figure, motorWords, valueOf } from './words';
import { useSaid } from '../../units/UnitsContext';

/** The designs, ten near-identical packs in one row that opens; sorted by any figure. */
export function MatchTable({
  designs,
  axes,
  chosen,
  onChosen,
  onVariant,
  onWhyNot,
  opened,
  onOpened,
}: {
  designs: Match[];
  axes: AxisInfo[];
  chosen: Match[];
  onChosen: (m: Match) => void;
  onVariant: (m: Match) => void;
  onWhyNot: (m: Match) => void;
  opened: string | null;
  onOpened: (key: string | null) => void;
}) {
  const system = useUnits();
  const said = useSaid();
  const { draft } = useWorkbench();
  const currency = draft.brief.currency ?? '';
  const active = axes.filter((a) => a.active);
  const [sort, setSort] = useState<{ by: Axis | 'place'; down: boolean }>({ by: 'place', down: false });
  const [hidden, setHidden] = useState<string[]>([]);
  const [expanded, setExpanded] = useState<Set<string>>(new Set());
  const [most, setMost] = useState(20);
  const value = (m: Match) => (sort.by === 'place' ? m.place : valueOf(m, sort.by));
  const sorted = [...designs].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    // What is never reached comes last whichever way the column is sorted.
    if (x === null || y === null) return Number(x === null) - Number(y === null);
    return (x - y) * (sort.down ? -1 : 1) || a.place - b.place;
  });
  const groups = new Map<string, Match[]>();
  for (const m of sorted) groups.set(m.group, [...(groups.get(m.group) ?? []), m]);
  // What is open is drawn wherever it stands, also where its group is folded or below those drawn.
  const isOpen = (m: Match) => keyOf(m) === opened;
  const rows = [...groups.values()].filter((members, i) => i < most || members.some(isOpen));
  const header = (by: Axis | 'place', word: string, numeric = true) => (
    <TableCell
      key={by}
      align={numeric ? 'right' : 'left'}
      sortDirection={sort.by === by ? (sort.down ? 'desc' : 'asc') : false}
    >
      <TableSortLabel
        active={sort.by === by}
        direction={sort.by === by && sort.down ? 'desc' : 'asc'}
        onClick={() => {
          setSort({ by, down: sort.by === by && !sort.down });
        }}
      >
        {word}
      </TableSortLabel>
    </TableCell>
  );
  const columns = active.filter((a) => !hidden.includes(a.axis));
  const row = (m: Match, first: boolean, more: number) => {
    const key = keyOf(m);
    const open = opened === key;
    const isChosen = chosen.some((c) => keyOf(c) === key);
    return (
      <Fragment key={key}>
        <TableRow
          hover
          data-testid={`match-${String(m.place)}`}
          sx={{ cursor: 'pointer', '& td': { verticalAlign: 'top', borderBottom: open ? 0 : undefined } }}
          onClick={() => {
            onOpened(open ? null : key);
          }}
        >
          <TableCell className="figures" sx={{ width: 30, color: 'text.secondary' }}>
            {/* The row opens by a click anywhere; by the keyboard it opens here. */}
            <ButtonBase
              aria-expanded={open}
              aria-label={`Number ${String(m.place)}, ${motorWords(m)}: details`}
              onClick={(e) => {
                e.stopPropagation();
                onOpened(open ? null : key);
              }}
              sx={{ minWidth: 24, minHeight: 24, font: 'inherit' }}
            >
              {m.place}
            </ButtonBase>
          </TableCell>
          <TableCell>
            {first ? (
              <>
                <Typography variant="body2" sx={{ fontWeight: 650 }}>
                  {motorWords(m)}
                </Typography>
                <Typography variant="caption" color="text.secondary" component="div" sx={{ whiteSpace: 'nowrap' }}>
                  {m.pick.controller}
                </Typography>
                <Typography variant="caption" color="text.secondary" component="div">
                  {m.gearing}
                </Typography>
              </>
            ) : (
              <Typography variant="caption" color="text.secondary" sx={{ pl: 2 }}>
                the same drive
              </Typography>
            )}
          </TableCell>
          {!hidden.includes('pack') && (
            <TableCell>
              <Typography variant="body2">{m.pick.module}</Typography>
              <Typography variant="caption" color="text.secondary" component="div" sx={{ whiteSpace: 'nowrap' }}>
                {m.layout} {m.chemistry}
                {m.salvaged ? ', salvaged' : ''}
              </Typography>
              <Typography variant="caption" color="text.secondary" component="div" sx={{ whiteSpace: 'nowrap' }}>
                {showText(m.usable_kwh, 'kWh', system)} usable
              </Typography>
            </TableCell>
          )}
          {columns.map((a) => {
            const shown = figure(valueOf(m, a.axis), a.unit, system, currency);
            return (
              <TableCell key={a.axis} align="right" sx={{ whiteSpace: 'nowrap' }}>
                <span className="figures">{shown.text}</span>{' '}
                <Typography variant="caption" color="text.secondary">
                  {shown.unit}
                </Typography>
              </TableCell>
            );
          })}
          {!hidden.includes('held') && (
            <TableCell>
              <Held m={m} />
            </TableCell>
          )}
          <TableCell align="right" sx={{ whiteSpace: 'nowrap', pr: 0 }}>
            {more > 0 && (
              <Button
                aria-expanded={expanded.has(m.group)}
                onClick={(e) => {
                  e.stopPropagation();
                  const next = new Set(expanded);
                  if (!next.delete(m.group)) next.add(m.group);
                  setExpanded(next);
                }}
                sx={{ minWidth: 0, px: 1 }}
              >
                {expanded.has(m.group) ? 'fewer' : `+ ${count(more, 'pack')}`}
              </Button>
            )}
            <Checkbox
              size="small"
              checked={isChosen}
              disabled={!isChosen && chosen.length >= 4}
              onClick={(e) => {
                e.stopPropagation();
              }}
              onChange={() => {
                onChosen(m);
              }}
              slotProps={{ input: { 'aria-label': `Compare number ${String(m.place)}` } }}
              sx={{ p: 0.5 }}
            />
            <Button
              variant="outlined"
              aria-label={`Make number ${String(m.place)} a variant`}
              onClick={(e) => {
                e.stopPropagation();
                onVariant(m);
              }}
              sx={{ minWidth: 0, px: 1 }}
            >
              use
            </Button>
          </TableCell>
        </TableRow>
        {open && (
          <TableRow>
            <TableCell />
            <TableCell colSpan={columns.length + 3 - hidden.filter((h) => h === 'pack' || h === 'held').length + 1}>
              <Details m={m}>
                <Button
                  onClick={() => {
                    onWhyNot(m);
                  }}
                >
                  ask why not &hellip;
                </Button>
              </Details>
            </TableCell>
          </TableRow>
        )}
      </Fragment>
    );
  };
  return (
    <Box>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 0.5 }}>
        <Typography variant="caption" color="text.secondary">
          {count(groups.size, 'drive')}, {count(designs.length, 'design')}; none is dominated in every figure by
          another. Rows open.
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Select
          multiple
          variant="standard"
          disableUnderline
          displayEmpty
          value={hidden}
          renderValue={() => 'columns'}
          onChange={(e) => {
            const v = e.target.value;
            setHidden(typeof v === 'string' ? v.split(',') : v);
          }}
          inputProps={{ 'aria-label': 'Columns left out' }}
          sx={{ fontSize: '0.8rem' }}
        >
          {[['pack', 'Pack'], ...active.map((a) => [a.axis, said(a.name)]), ['held', 'Limited by']].map(
            ([key = '', word]) => (
              <MenuItem key={key} value={key} dense>
                <Checkbox size="small" checked={!hidden.includes(key)} sx={{ p: 0, mr: 1 }} />
                <ListItemText primary={word} />
              </MenuItem>
            ),
          )}
        </Select>
      </Box>
      <Table size="small" aria-label="Designs that meet the brief">
        <TableHead>
          <TableRow>
            {header('place', '#', false)}
            <TableCell>Motor, controller, gearing</TableCell>
            {!hidden.includes('pack') && <TableCell>Pack</TableCell>}
            {columns.map((a) => header(a.axis, short(a, said)))}
            {!hidden.includes('held') && <TableCell>Limited by</TableCell>}
            <TableCell align="right">compare</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((members) => {
            const [best, ...others] = members;
            if (!best) return null;
            return (
              <Fragment key={best.group}>
                {row(best, true, others.length)}
                {others.filter((m) => expanded.has(best.group) || isOpen(m)).map((m) => row(m, false, 0))}
              </Fragment>
            );
          })}
        </TableBody>
      </Table>
      {groups.size > most && (
        <Button
          onClick={() => {
            setMost(most + 40);
          }}
        >
          show more of {groups.size} drives
        </Button>
      )}
    </Box>
  );
}

/** A heading that fits its column. */
function short(a: AxisInfo, said: (name: Sentence) => string): string {
  switch (a.axis) {
    case 'cost':
      return 'Cost';
    case 'range':
      return 'Range';
    case 'acceleration':
      return said(a.name);
    case 'added_mass':
      return 'Added';
    case 'charge':
      return 'Charged';
    case 'hill':
      return 'Hill';
  }
}
