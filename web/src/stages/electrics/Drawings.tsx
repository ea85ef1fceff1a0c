import { Box } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import { memo } from 'react';
import type { ElectricsSheet } from '../../api/types';
import { LogLines } from '../../charts/LogLines';
import { SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import { convert, figures, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

type Props = Partial<Pick<ElectricsSheet, 'coordination' | 'precharge' | 'presses_kpa'>>;

/** The drawing of a group, where it has one: fuse against cable and load, the bus while it is precharged, vacuum press by press. */
function Drawings({ coordination: c, precharge: p, presses_kpa: presses }: Props) {
  const theme = useTheme();
  const system = useUnits();
  const colors = theme.vars?.palette.sheet ?? theme.palette.sheet;
  if (c) {
    return (
      <Box sx={{ maxWidth: 640, mt: { xs: 2, lg: 0 } }}>
        <LogLines
          title={
            <Title
              level="h3"
              word="Fuse, cable and load"
              note="the fuse lies above the load and opens before the cable fails"
            />
          }
          summary={`The load asks up to ${figures(Math.max(...c.load_a))} A; a short circuit is ${figures(c.short_circuit_a)} A.`}
          x={c.time_s}
          xWord="Time, s"
          yWord="Current, A"
          yMax={Math.max(2 * c.short_circuit_a, 10 * Math.max(...c.load_a))}
          mark={{ at: c.short_circuit_a, word: 'short circuit of a full pack' }}
          lines={[
            { id: 'load', label: 'load', y: c.load_a, color: colors.bar },
            { id: 'fuse', label: 'fuse', y: c.fuse_a, color: colors.signal },
            { id: 'cable', label: 'cable', y: c.cable_a, color: colors.good, dashed: true },
          ]}
        />
      </Box>
    );
  }
  if (p) {
    return (
      <Box sx={{ maxWidth: 640, mt: { xs: 2, lg: 0 } }}>
        <SheetLines
          title={<Title level="h3" word="The bus fills" note={`the contactor may close at ${figures(p.closes_v)} V`} />}
          summary={`It reaches ${figures(Math.max(...p.bus_v))} V.`}
          x={p.time_s}
          xUnit="s"
          yWord="Bus"
          yUnit="V"
          yMin={0}
          mark={{ at: p.delay_s, word: 'contactor closes' }}
          height={190}
          lines={[
            { id: 'bus', label: 'bus', data: p.bus_v, color: colors.bar, width: 2, labelled: false },
            { id: 'closes', label: '95 %', data: p.time_s.map(() => p.closes_v), color: colors.good, dashed: true },
          ]}
        />
      </Box>
    );
  }
  if (presses) {
    const unit = shownUnit('kPa', system, 'pressure');
    const vacuum = presses.map((v) => convert(v, 'kPa', unit));
    return (
      <Box sx={{ maxWidth: 640, mt: { xs: 2, lg: 0 } }}>
        <SheetLines
          title={<Title level="h3" word="Vacuum press by press" note="with the pump dead, until it no longer helps" />}
          summary={`From ${figures(vacuum[0] ?? 0)} to ${figures(vacuum.at(-1) ?? 0)} ${unit}.`}
          x={vacuum.map((_, i) => i)}
          xUnit="presses"
          yWord="Vacuum"
          yUnit={unit}
          yMin={0}
          height={170}
          lines={[{ id: 'vacuum', label: '', data: vacuum, color: colors.bar, marks: true, labelled: false }]}
        />
      </Box>
    );
  }
  return null;
}

/** Painted anew only where what it draws has changed. */
export default memo(Drawings);
