import { Box, Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { memo } from 'react';
import type { ElectricsSheet, LowVoltageLoad } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { Numbers, Row, Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { freshId } from '../../workbench/ids';
import { useWorkbench, type Workbench } from '../../workbench/WorkbenchContext';

const situations: Record<string, string> = { day: 'by day', night: 'at night in rain', winter: 'at night in winter' };

/** What is drawn at 12 V in each situation, and the loads it comes from. */
export function LoadTable({ situations: rows }: { situations: ElectricsSheet['situations'] }) {
  const { document, active, edit } = useWorkbench();
  const at = `designs.${active.id}.electrics.loads`;
  return <Loads situations={rows} at={at} loads={document.design.electrics?.loads ?? none} edit={edit} />;
}

const none: LowVoltageLoad[] = [];

interface LoadsProps extends Pick<Workbench, 'edit'> {
  situations: ElectricsSheet['situations'];
  at: string;
  loads: LowVoltageLoad[];
}

const Loads = memo(function Loads({ situations: rows, at, loads, edit }: LoadsProps) {
  const system = useUnits();
  const add = () => {
    const id = freshId(
      'load',
      loads.map((l) => l.id),
    );
    const load: LowVoltageLoad = { id, name: 'Load', draws_w: 50, day: 1, night: 1, winter: 1 };
    edit(at, [...loads, load]);
  };
  return (
    <Box sx={{ mt: 2 }}>
      <WideTable aria-label="12 V by situation" sx={{ maxWidth: 560 }}>
        <TableHead>
          <TableRow>
            <TableCell>12 V side</TableCell>
            <TableCell align="right">on the mean</TableCell>
            <TableCell align="right">all together</TableCell>
            <TableCell align="right">converter dead</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((s) => (
            <TableRow key={s.id}>
              <TableCell>{situations[s.id] ?? s.id}</TableCell>
              <TableCell align="right" className="figures">
                {showText(s.mean_w, 'W', system, 3, 'load')}
              </TableCell>
              <TableCell align="right" className="figures">
                {showText(s.most_w, 'W', system, 3, 'load')}
              </TableCell>
              <TableCell align="right" className="figures">
                {figures(Math.round(s.minutes_left))} min
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
      {loads.length === 0 && (
        <Typography color="text.secondary" sx={{ mt: 1 }}>
          Loads usual for the kind of vehicle are counted; the first of your own replaces them all.
        </Typography>
      )}
      {loads.map((l, i) => (
        <Box key={l.id} sx={{ py: 0.75 }}>
          <Row>
            <Words at={`${at}.${String(i)}.name`} label="Load" width={170} />
            <Numbers
              group="LowVoltageLoad"
              at={`${at}.${String(i)}`}
              keys={['draws_w', 'day', 'night', 'winter']}
              width={95}
            />
            <RemoveButton
              what={l.name}
              onClick={() => {
                edit(
                  at,
                  loads.filter((x) => x.id !== l.id),
                );
              }}
            />
          </Row>
        </Box>
      ))}
      <Button onClick={add}>Add a load</Button>
    </Box>
  );
});
