import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import type { AxisInfo, Match } from '../../api/types';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { keyOf } from './plane';
import { figure, motorWords, packWords, valueOf } from './words';
import { Said } from '../../units/Said';
import { useSaid } from '../../units/UnitsContext';

/** Up to four designs side by side; the best of each figure is set in bold, what all share is left out. */
export function CompareMatches({
  chosen,
  axes,
  onRemove,
  onVariant,
}: {
  chosen: Match[];
  axes: AxisInfo[];
  onRemove: (m: Match) => void;
  onVariant: (m: Match) => void;
}) {
  const system = useUnits();
  const said = useSaid();
  const { draft } = useWorkbench();
  const words: [string, (m: Match) => string][] = [
    ['motor', motorWords],
    ['where', (m) => m.mount],
    ['gearing', (m) => m.gearing],
    ['controller', (m) => m.pick.controller],
    ['cell or module', (m) => m.pick.module],
    ['pack', (m) => packWords(m, system)],
    ['charger', (m) => m.pick.charger ?? 'none'],
    ['weakest link', (m) => m.held_back?.weakest_link ?? ''],
    ['weakest claim', (m) => said(m.held_back?.weakest_claim?.name ?? [])],
  ];
  const differs = (of: (m: Match) => string) => new Set(chosen.map(of)).size > 1;
  const best = (a: AxisInfo) => {
    const all = chosen.map((m) => valueOf(m, a.axis)).filter((v) => v !== null);
    return a.more_is_better ? Math.max(...all) : Math.min(...all);
  };
  return (
    <Box>
      <Table size="small" aria-label="Chosen designs side by side">
        <TableHead>
          <TableRow>
            <TableCell />
            {chosen.map((m) => (
              <TableCell key={keyOf(m)}>
                number {m.place}{' '}
                <Button
                  sx={{ minWidth: 0, px: 0.75 }}
                  onClick={() => {
                    onVariant(m);
                  }}
                >
                  use
                </Button>
                <Button
                  sx={{ minWidth: 0, px: 0.75, color: 'text.secondary' }}
                  aria-label={`Take number ${String(m.place)} out of the comparison`}
                  onClick={() => {
                    onRemove(m);
                  }}
                >
                  ✕
                </Button>
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {words
            .filter(([, of]) => differs(of))
            .map(([word, of]) => (
              <TableRow key={word}>
                <TableCell component="th" scope="row" sx={{ color: 'text.secondary' }}>
                  {word}
                </TableCell>
                {chosen.map((m) => (
                  <TableCell key={keyOf(m)}>{of(m)}</TableCell>
                ))}
              </TableRow>
            ))}
          {axes
            .filter((a) => a.active)
            .map((a) => (
              <TableRow key={a.axis}>
                <TableCell component="th" scope="row" sx={{ color: 'text.secondary' }}>
                  <Said of={a.name} />
                </TableCell>
                {chosen.map((m) => {
                  const v = valueOf(m, a.axis);
                  const shown = figure(v, a.unit, system, draft.brief.currency ?? '');
                  return (
                    <TableCell
                      key={keyOf(m)}
                      className="figures"
                      sx={{ fontWeight: v === best(a) && chosen.length > 1 ? 700 : 400 }}
                    >
                      {shown.text} {shown.unit}
                    </TableCell>
                  );
                })}
              </TableRow>
            ))}
        </TableBody>
      </Table>
    </Box>
  );
}
