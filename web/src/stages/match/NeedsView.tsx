import { Box, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { WideTable } from '../../common/WideTable';
import { useTheme } from '@mui/material/styles';
import type { Needs } from '../../api/types';
import { type Line, SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import { convert, figures, showText, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { Said } from '../../units/Said';
import { useSaid } from '../../units/UnitsContext';

const held = { peak: 'at peak', ten_minutes: 'for ten minutes', continuous: 'continuous' } as const;

/** What goals ask at the wheels, over the road on grades and the grip of the tyres. */
function NeedsChart({ needs }: { needs: Needs }) {
  const system = useUnits();
  const said = useSaid();
  const theme = useTheme();
  const sheet = theme.vars?.palette.sheet ?? theme.palette.sheet;
  const force = shownUnit('kN', system);
  const speed = shownUnit('km/h', system);
  const x = needs.speed_kmh.map((v) => convert(v, 'km/h', speed));
  const y = (n: number) => convert(n, 'N', force);
  const most = Math.max(needs.grip_n, ...needs.wheels.map((w) => w.force_n)) * 1.1;
  const nearest = (kmh: number) =>
    needs.speed_kmh.reduce(
      (best, v, i) => (Math.abs(v - kmh) < Math.abs((needs.speed_kmh[best] ?? 0) - kmh) ? i : best),
      0,
    );
  const roads: Line[] = needs.road.map((r) => ({
    id: `road-${String(r.grade_percent)}`,
    label: `${String(r.grade_percent)} %`,
    data: r.force_n.map((f) => (f > most ? null : y(f))),
    color: sheet.strong,
    dashed: r.grade_percent > 0,
    width: 1,
  }));
  const peak: Line = {
    id: 'peak',
    label: 'peak power asked',
    data: needs.speed_kmh.map((v) => {
      const f = v > 0 ? (needs.peak_power_w * 3.6) / v : Infinity;
      return f > needs.grip_n ? null : y(f);
    }),
    color: sheet.bar,
    width: 2,
    labelled: false,
  };
  const points: Line[] = needs.wheels.map((w, i) => ({
    id: `need-${w.goal}`,
    label: String.fromCharCode(97 + i),
    data: needs.speed_kmh.map((_, at) => (at === nearest(w.speed_kmh) ? y(w.force_n) : null)),
    color: sheet.signal,
    marks: true,
    labelAt: nearest(w.speed_kmh),
  }));
  const grip: Line = {
    id: 'grip',
    label: '',
    data: needs.speed_kmh.map(() => y(needs.grip_n)),
    color: sheet.good,
    dashed: true,
    width: 1.5,
    labelled: false,
  };
  return (
    <SheetLines
      title={
        <Title
          word="Asked of the wheels"
          note="points: goals; solid: power asked; green: what the driven tyres pass; grey: the road on grades"
        />
      }
      summary={needs.wheels
        .map((w) => `${said(w.name)}: ${figures(y(w.force_n))} ${force} at ${showText(w.speed_kmh, 'km/h', system)}.`)
        .join(' ')}
      x={x}
      xUnit={speed}
      yWord="Tractive force"
      yUnit={force}
      yMax={y(most)}
      lines={[...roads, grip, peak, ...points]}
      height={250}
    />
  );
}

/** Before any part is chosen: force, power, energy and revolutions that the brief asks of this donor. */
export function NeedsView({ needs }: { needs: Needs }) {
  const system = useUnits();
  const s = (v: number, unit: string, n = 3) => showText(v, unit, system, n);
  const trips = [...new Set(needs.trips.map((t) => t.trip))];
  const season = (trip: string, of: string) => needs.trips.find((t) => t.trip === trip && t.season === of);
  const volts = needs.gears[0]?.rpm_per_volt.map((v) => v.nominal_v) ?? [];
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: 'minmax(380px, 5fr) 6fr' }, gap: 3 }}>
      <Box>
        <NeedsChart needs={needs} />
        <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
          For {s(needs.test_kg, 'kg', 4)}
          {needs.mass_as_donor ? ', as if the conversion weighed what the donor weighed' : ''}; usual losses of the
          class, 0.79 from pack to wheel (handbook).
        </Typography>
      </Box>
      <Box sx={{ display: 'grid', gap: 2, alignContent: 'start' }}>
        <WideTable aria-label="Asked of the wheels">
          <TableHead>
            <TableRow>
              <TableCell>At the wheels</TableCell>
              <TableCell align="right">speed</TableCell>
              <TableCell align="right">pull</TableCell>
              <TableCell align="right">torque</TableCell>
              <TableCell align="right">power</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {needs.wheels.map((w, i) => (
              <TableRow key={w.goal}>
                <TableCell>
                  <Box component="span" sx={{ color: 'error.main', fontWeight: 700, mr: 0.75 }}>
                    {String.fromCharCode(97 + i)}
                  </Box>
                  <Said of={w.name} />{' '}
                  <Typography variant="caption" color="text.secondary">
                    {held[w.held_for]}
                  </Typography>
                </TableCell>
                <TableCell align="right" className="figures">
                  {s(w.speed_kmh, 'km/h')}
                </TableCell>
                <TableCell align="right" className="figures">
                  {s(w.force_n / 1000, 'kN')}
                </TableCell>
                <TableCell align="right" className="figures">
                  {s(w.wheel_torque_nm, 'N·m')}
                </TableCell>
                <TableCell align="right" className="figures">
                  {w.power_w > 0 ? s(w.power_w, 'W') : '–'}
                </TableCell>
              </TableRow>
            ))}
            {needs.wheels.length === 0 && (
              <TableRow>
                <TableCell colSpan={5}>
                  No goal asks anything of the wheels yet: add a speed, a hill or a time in the Brief.
                </TableCell>
              </TableRow>
            )}
          </TableBody>
        </WideTable>
        <WideTable aria-label="Energy asked of the pack">
          <TableHead>
            <TableRow>
              <TableCell>From the pack, usable</TableCell>
              <TableCell align="right">for</TableCell>
              <TableCell align="right">usual</TableCell>
              <TableCell align="right">summer</TableCell>
              <TableCell align="right">winter</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {trips.map((t) => (
              <TableRow key={t}>
                <TableCell>{season(t, 'usual')?.name}</TableCell>
                <TableCell align="right" className="figures">
                  {s(season(t, 'usual')?.range_km ?? 0, 'km')}
                </TableCell>
                {['usual', 'summer', 'winter'].map((of) => (
                  <TableCell key={of} align="right" className="figures">
                    {s(season(t, of)?.usable_kwh ?? 0, 'kWh')}
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </WideTable>
        {needs.chargers.map((c) => (
          <Typography key={c.socket} variant="body2">
            <b>{c.name}</b>: {s(c.pack_kwh, 'kWh')} in {s(c.hours_h, 'h')} take a charger of{' '}
            <span className="figures">{showText(c.charger_w, 'W', system, 3, 'electric_power')}</span>; the socket gives{' '}
            <span className="figures">{showText(c.socket_gives_w, 'W', system, 3, 'electric_power')}</span>
            <Box component="span" sx={{ color: c.enough ? 'success.main' : 'error.main', fontWeight: 650 }}>
              {c.enough ? ', enough' : ', too little'}
            </Box>
            .
          </Typography>
        ))}
        {needs.gears.length > 0 && (
          <WideTable aria-label="Revolutions for each volt">
            <TableHead>
              <TableRow>
                <TableCell>
                  Motor at {s(needs.gears[0]?.speed_kmh ?? 0, 'km/h')}; rpm for each volt of a system of
                </TableCell>
                <TableCell align="right">rpm</TableCell>
                {volts.map((v) => (
                  <TableCell key={v} align="right" sx={{ whiteSpace: 'nowrap' }}>
                    {v} V
                  </TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {needs.gears.map((g) => (
                <TableRow key={`${String(g.range)}-${String(g.gear)}`}>
                  <TableCell>
                    {needs.gears.length > 1
                      ? `gear ${String(g.gear)}${needs.gears.some((o) => o.range !== g.range) ? `, range ${String(g.range)}` : ''}`
                      : 'its ratio'}
                    , <span className="figures">{figures(g.overall_ratio)}</span> : 1
                  </TableCell>
                  <TableCell align="right" className="figures">
                    {figures(g.motor_rpm, 4)}
                  </TableCell>
                  {g.rpm_per_volt.map((v) => (
                    <TableCell key={v.nominal_v} align="right" className="figures">
                      {figures(v.rpm_per_volt)}
                    </TableCell>
                  ))}
                </TableRow>
              ))}
            </TableBody>
          </WideTable>
        )}
      </Box>
    </Box>
  );
}
