import { Box, MenuItem, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material';
import { useDimmed } from '../../common/useDimmed';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { socketsQuery } from '../../api/queries';
import type { SocketStudy } from '../../api/types';
import { Failed, Loading } from '../../common/States';
import { WideTable } from '../../common/WideTable';
import { Row, Section } from '../../fields/Fields';
import { QuantityField } from '../../fields/QuantityField';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { duration } from '../../units/week';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';

const ChargeCurve = lazy(() => import('./ChargeCurve'));

const limits: Record<string, string> = {
  circuit: 'the circuit of the socket',
  pilot: 'pilot or cable',
  connector: 'the connector',
  charger_power: "the charger's power",
  charger_amps: "the charger's output amps",
  station: 'the charging station',
  station_volts: 'the pack is below its lowest voltage',
  pack_rate: "the cells' charge rate",
  taper: 'the taper at full voltage',
  acceptance: 'what lead-acid accepts',
  cold: 'cells too cold to take charge',
};

/** A share that is typed in percent. */
const share = {
  key: 'soc',
  label: '',
  unit: '%',
  min: 0,
  max: 100,
  whole: false,
  required: false,
  default: 'the window',
  dimension: '',
  claimable: false,
};

/** What decides about the current, from the wall to the vehicle; or the station's window beside the pack's volts. */
function Deciding({ of }: { of: SocketStudy }) {
  const system = useUnits();
  const w = of.window;
  if (w)
    return (
      <Typography variant="body2" color={w.starts ? 'text.secondary' : 'error.main'}>
        It works from {showText(w.lowest_v, 'V', system)} to {showText(w.highest_v, 'V', system)}; the pack has{' '}
        {showText(w.pack_empty_v, 'V', system)} at the bottom of its window and {showText(w.pack_full_v, 'V', system)}{' '}
        when full{w.starts ? '.' : ': it does not start on an empty pack.'}
      </Typography>
    );
  return (
    <Typography variant="body2" color="text.secondary">
      On each phase:{' '}
      {of.links.map((l, i) => (
        <span key={l.name + String(i)}>
          {i > 0 && ', '}
          {l.least ? (
            <b>
              {l.name} {figures(l.amps_a)} A
            </b>
          ) : (
            <>
              {l.name} {figures(l.amps_a)} A
            </>
          )}
        </span>
      ))}
      .
      {of.pilot_duty_percent != null &&
        ` A pilot of ${figures(of.pilot_duty_percent)} % offers what the circuit bears.`}
      {of.cable_code != null &&
        ` A cable coded for ${figures(of.cable_code.amps_a)} A (${figures(of.cable_code.resistor_ohm)} Ω) carries it.`}
    </Typography>
  );
}

/** Charging at each socket between any two states of charge. */
export function SocketsSection() {
  const { draft } = useWorkbench();
  const { settled, computed } = useResults();
  const system = useUnits();
  const [from, setFrom] = useState<number | null>(null);
  const [to, setTo] = useState<number | null>(null);
  const [season, setSeason] = useState('usual');
  const [chosen, setChosen] = useState<string | null>(null);
  const ready = computed.estimate !== undefined;
  const sound = from === null || to === null || from < to;
  const query = useQuery({
    ...socketsQuery(settled, from === null ? null : from / 100, to === null ? null : to / 100),
    enabled: ready && sound,
  });
  const dimmed = useDimmed(query.isPlaceholderData);
  const studies = (query.data ?? []).filter((s) => s.season === season);
  const open = studies.find((s) => s.socket === chosen) ?? studies.find((s) => s.session != null) ?? studies[0];
  const pack = computed.estimate?.pack;
  return (
    <Section
      title="At each socket"
      note={
        pack
          ? `window ${(pack.soc_min * 100).toFixed(0)} to ${(pack.soc_max * 100).toFixed(0)} %, ${showText(pack.usable_kwh, 'kWh', system)}`
          : ''
      }
    >
      {(draft.brief.sockets ?? []).length === 0 ? (
        <Typography color="text.secondary">Name a socket in the Brief, and its hours are told here.</Typography>
      ) : (
        <>
          <Row>
            <QuantityField
              of={share}
              label="Charge at the start"
              value={from}
              width={140}
              onChange={(v) => {
                setFrom(v ?? null);
              }}
            />
            <QuantityField
              of={share}
              label="Charge at the end"
              value={to}
              width={140}
              onChange={(v) => {
                setTo(v ?? null);
              }}
            />
            <TextField
              select
              label="on a day"
              value={season}
              onChange={(e) => {
                setSeason(e.target.value);
              }}
              sx={{ width: 120 }}
            >
              <MenuItem value="usual">as usual</MenuItem>
              <MenuItem value="summer">in summer</MenuItem>
              <MenuItem value="winter">in winter</MenuItem>
            </TextField>
            {!sound && (
              <Typography role="alert" color="error" sx={{ pt: 2 }}>
                It must end above {figures(from)} %, where it begins.
              </Typography>
            )}
          </Row>
          {!ready && (
            <Typography color="text.secondary" sx={{ mt: 1 }}>
              Hours are told once motor, controller and pack are chosen.
            </Typography>
          )}
          {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
          {ready && sound && query.isPending && <Loading what="the sockets" />}
          {studies.length > 0 && (
            <Box sx={{ ...dimmed, mt: 1 }} aria-busy={query.isPlaceholderData}>
              <WideTable aria-label="Charging at each socket" sx={{ minWidth: 600 }}>
                <TableHead>
                  <TableRow>
                    <TableCell>Socket</TableCell>
                    <TableCell align="right">takes</TableCell>
                    <TableCell align="right">from the socket</TableCell>
                    <TableCell align="right">at most</TableCell>
                    <TableCell align="right">price</TableCell>
                    <TableCell>limited most by</TableCell>
                  </TableRow>
                </TableHead>
                <TableBody>
                  {studies.map((s) => {
                    const c = s.session;
                    return (
                      <TableRow
                        key={s.socket}
                        hover
                        selected={s.socket === open?.socket}
                        onClick={() => {
                          setChosen(s.socket);
                        }}
                        sx={{ cursor: 'pointer' }}
                      >
                        <TableCell>
                          <Box
                            component="button"
                            aria-pressed={s.socket === open?.socket}
                            sx={{
                              font: 'inherit',
                              color: 'inherit',
                              background: 'none',
                              border: 0,
                              p: 0,
                              cursor: 'pointer',
                            }}
                          >
                            {s.name}
                          </Box>
                        </TableCell>
                        <TableCell align="right" className="figures">
                          {c == null
                            ? '–'
                            : c.hours_h != null
                              ? duration(c.hours_h)
                              : c.reached_soc > c.from_soc
                                ? `ends at ${(c.reached_soc * 100).toFixed(0)} %`
                                : 'never'}
                        </TableCell>
                        <TableCell align="right" className="figures">
                          {c && c.socket_kwh > 0 ? showText(c.socket_kwh, 'kWh', system) : '–'}
                        </TableCell>
                        <TableCell align="right" className="figures">
                          {c && c.socket_kwh > 0 ? showText(c.peak_socket_kw, 'kW', system, 3, 'electric_power') : '–'}
                        </TableCell>
                        <TableCell align="right" className="figures">
                          {c && c.socket_kwh > 0 ? `${s.price.toFixed(2)} ${draft.brief.currency ?? ''}` : '–'}
                        </TableCell>
                        <TableCell>{c ? limits[c.limited_by] : 'no charger chosen'}</TableCell>
                      </TableRow>
                    );
                  })}
                </TableBody>
              </WideTable>
              {open && (
                <Box sx={{ mt: 1.5 }}>
                  <Deciding of={open} />
                  {open.along.hours_h.length > 2 && (
                    <Suspense fallback={<Loading what="the drawing" />}>
                      <ChargeCurve of={open} />
                    </Suspense>
                  )}
                </Box>
              )}
            </Box>
          )}
        </>
      )}
    </Section>
  );
}
