import { Box } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import type { SocketStudy } from '../../api/types';
import { SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import { figures } from '../../units/units';

/** Charge and power, and amps and volts, along the hours at one socket. */
export default function ChargeCurve({ of }: { of: SocketStudy }) {
  const theme = useTheme();
  const sheet = theme.vars?.palette.sheet ?? theme.palette.sheet;
  const { hours_h, soc, socket_kw, amps_a, volts_v } = of.along;
  const last = hours_h.at(-1) ?? 0;
  // Short charges read better in minutes.
  const [unit, x] = last < 2 ? ['min', hours_h.map((h) => h * 60)] : ['h', hours_h];
  const chart = { x, xUnit: unit, height: 170 };
  return (
    <Box
      sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr 1fr' }, columnGap: 4, rowGap: 1.5, mt: 1 }}
    >
      <SheetLines
        {...chart}
        title={<Title level="h3" word="Charge" note={of.name} />}
        summary={`From ${figures((soc[0] ?? 0) * 100)} to ${figures((soc.at(-1) ?? 0) * 100)} % in ${figures(last)} h.`}
        yWord="State of charge"
        yUnit="%"
        yMin={0}
        yMax={100}
        lines={[{ id: 'soc', label: '%', data: soc.map((s) => s * 100), color: sheet.good, width: 2, labelled: false }]}
      />
      <SheetLines
        {...chart}
        title={<Title level="h3" word="Power" note="out of the socket" />}
        summary={`Up to ${figures(Math.max(...socket_kw))} kW.`}
        yWord="Power"
        yUnit="kW"
        yMin={0}
        lines={[{ id: 'kw', label: 'kW', data: socket_kw, color: sheet.signal, width: 2, labelled: false }]}
      />
      <SheetLines
        {...chart}
        title={<Title level="h3" word="Amps and volts" note="into the pack; volts over those at the start" />}
        summary={`Up to ${figures(Math.max(...amps_a))} A, up to ${figures(Math.max(...volts_v))} V.`}
        yWord="Current"
        yUnit="A"
        yMin={0}
        lines={[
          { id: 'amps', label: 'A', data: amps_a, color: sheet.bar, width: 2 },
          {
            id: 'volts',
            label: 'V',
            data: volts_v.map((v) => v - (volts_v[0] ?? 0)),
            color: sheet.doubt,
            told: volts_v.map((v) => `${figures(v)} V`),
          },
        ]}
      />
    </Box>
  );
}
