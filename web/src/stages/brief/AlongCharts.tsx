import { Box } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import type { TripAlong } from '../../api/types';
import { SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import { convert, figures, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

/** Speed and height, charge, and heat along a trip. */
export default function AlongCharts({ along, name }: { along: TripAlong; name: string }) {
  const system = useUnits();
  const theme = useTheme();
  const sheet = theme.vars?.palette.sheet ?? theme.palette.sheet;
  const [distance, speed, rise] = [shownUnit('km', system), shownUnit('km/h', system), shownUnit('°C', system)];
  const x = along.distance_km.map((v) => convert(v, 'km', distance));
  const kmh = (v: number) => convert(v, 'km/h', speed);
  const celsius = (v: number) => convert(v, '°C', rise);
  const metre = shownUnit('m', system, 'height');
  const heights = along.height_m.map((v) => convert(v, 'm', metre));
  const flat = Math.max(...heights) - Math.min(...heights) < 1;
  const hottest = Math.max(...along.motor_c, ...along.controller_c);
  const coldest = Math.min(...along.motor_c, ...along.controller_c);
  const chart = { x, xUnit: distance, height: 150 };
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' }, columnGap: 4, rowGap: 1.5 }}>
      <SheetLines
        {...chart}
        title={<Title level="h3" word="Speed" note="asked for, and driven where the two part" />}
        summary={`${name}: up to ${figures(kmh(Math.max(...along.speed_kmh)))} ${speed}.`}
        yWord="Speed"
        yUnit={speed}
        lines={[
          {
            id: 'asked',
            label: 'asked',
            data: along.asked_kmh.map(kmh),
            color: sheet.signal,
            width: 1,
            labelled: false,
          },
          { id: 'driven', label: 'driven', data: along.speed_kmh.map(kmh), color: sheet.strong, labelled: false },
        ]}
      />
      <SheetLines
        {...chart}
        title={<Title level="h3" word="Height" note={flat ? 'level' : 'above the start, after cleaning'} />}
        summary={`Between ${figures(Math.min(...heights))} and ${figures(Math.max(...heights))} ${metre}.`}
        yWord="Height"
        yUnit={metre}
        yMin={Math.min(0, Math.floor(Math.min(...heights) / 10) * 10)}
        yMax={Math.max(10, Math.ceil(Math.max(...heights) / 10) * 10)}
        lines={[{ id: 'height', label: metre, data: heights, color: sheet.bar, width: 2, labelled: false }]}
      />
      <SheetLines
        {...chart}
        title={<Title level="h3" word="Charge" note="of the pack" />}
        summary={`From ${figures((along.soc[0] ?? 0) * 100)} to ${figures((along.soc.at(-1) ?? 0) * 100)} %.`}
        yWord="State of charge"
        yUnit="%"
        yMax={100}
        lines={[
          {
            id: 'charge',
            label: '%',
            data: along.soc.map((s) => s * 100),
            color: sheet.good,
            width: 2,
            labelled: false,
          },
        ]}
      />
      <SheetLines
        {...chart}
        title={
          <Title
            level="h3"
            word="Heat"
            note={`motor may reach ${figures(celsius(along.motor_limit_c))}, controller ${figures(celsius(along.controller_limit_c))} ${rise}`}
          />
        }
        summary={`Hottest ${figures(celsius(hottest))} ${rise}.`}
        yWord="Temperature"
        yUnit={rise}
        yMin={Math.min(0, Math.floor(celsius(coldest) / 10) * 10)}
        yMax={Math.ceil(celsius(hottest * 1.15 + 5) / 10) * 10}
        lines={[
          { id: 'motor', label: 'motor', data: along.motor_c.map(celsius), color: sheet.signal, width: 2 },
          { id: 'controller', label: 'ctrl', data: along.controller_c.map(celsius), color: sheet.doubt },
        ]}
      />
    </Box>
  );
}
