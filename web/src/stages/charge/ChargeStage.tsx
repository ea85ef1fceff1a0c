import { Box, Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { WideTable } from '../../common/WideTable';
import { useState } from 'react';
import { Section } from '../../fields/Fields';
import { Ratings } from '../../parts/Ratings';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { PartPicker } from '../../parts/PartPicker';

const limits: Record<string, string> = {
  circuit: 'the circuit of the socket',
  charger_power: "the charger's power",
  charger_amps: "the charger's output amps",
  station: 'the charging station',
  pack_rate: "the cells' charge rate",
  taper: 'the taper at full voltage',
  acceptance: 'what lead-acid accepts',
  cold: 'cells too cold to take charge',
};

const hours = (h: number) => `${String(Math.floor(h))} h ${String(Math.round((h % 1) * 60)).padStart(2, '0')}`;

export default function ChargeStage() {
  const { computed, document, draft } = useWorkbench();
  const system = useUnits();
  const [picking, setPicking] = useState(false);
  const charger = document.design.charger;
  const pack = computed.estimate?.pack;
  const fixed = charger && charger.output_min_v === charger.output_max_v;
  return (
    <Box sx={{ maxWidth: 1100 }}>
      <Section
        title="Charger"
        action={
          <Button
            variant="outlined"
            onClick={() => {
              setPicking(true);
            }}
          >
            {charger ? 'Change the charger' : 'Choose a charger'}
          </Button>
        }
      >
        {charger ? (
          <Typography>
            <b>{charger.name}</b>: {showText(charger.output_power_w, 'W', system, 3, 'electric_power')}, up to{' '}
            {showText(charger.output_current_a, 'A', system)}, {fixed ? 'ends at ' : 'set from '}
            {showText(charger.output_min_v, 'V', system, 4)}
            {!fixed && ` to ${showText(charger.output_max_v, 'V', system, 4)}`}. The pack is full at{' '}
            {pack ? showText(pack.full_v, 'V', system, 4) : '–'}.
          </Typography>
        ) : (
          <Typography color="text.secondary">
            A charger must end at the pack&rsquo;s full-charge voltage, and give back a day&rsquo;s trips in the hours
            at the socket.
          </Typography>
        )}
        {charger && <Ratings part="charger" />}
      </Section>
      <Section
        title="At each socket"
        note={
          pack
            ? `window ${(pack.soc_min * 100).toFixed(0)} to ${(pack.soc_max * 100).toFixed(0)} %, ${showText(pack.usable_kwh, 'kWh', system)}`
            : ''
        }
      >
        {(computed.estimate?.charging ?? []).length === 0 ? (
          <Typography color="text.secondary">Name a socket in the Brief, and its hours are told here.</Typography>
        ) : (
          <WideTable aria-label="Charging at each socket">
            <TableHead>
              <TableRow>
                <TableCell>Socket</TableCell>
                <TableCell align="right">whole window</TableCell>
                <TableCell align="right">20 to 80 %</TableCell>
                <TableCell align="right">from the socket</TableCell>
                <TableCell align="right">at most</TableCell>
                <TableCell align="right">price</TableCell>
                <TableCell>limited by</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {(computed.estimate?.charging ?? []).map((c) => (
                <TableRow key={c.socket}>
                  <TableCell>{c.name}</TableCell>
                  <TableCell align="right" className="figures">
                    {c.window == null
                      ? '–'
                      : c.window.hours_h == null
                        ? `ends at ${(c.window.reached_soc * 100).toFixed(0)} %`
                        : hours(c.window.hours_h)}
                  </TableCell>
                  <TableCell align="right" className="figures">
                    {c.twenty_to_eighty?.hours_h == null ? '–' : hours(c.twenty_to_eighty.hours_h)}
                  </TableCell>
                  <TableCell align="right" className="figures">
                    {c.window ? showText(c.window.socket_kwh, 'kWh', system) : '–'}
                  </TableCell>
                  <TableCell align="right" className="figures">
                    {c.window ? showText(c.window.peak_socket_kw, 'kW', system, 3, 'electric_power') : '–'}
                  </TableCell>
                  <TableCell align="right" className="figures">
                    {c.window ? `${c.window_cost.toFixed(2)} ${draft.brief.currency ?? ''}` : '–'}
                  </TableCell>
                  <TableCell>{c.window ? limits[c.window.limited_by] : 'no charger chosen'}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </WideTable>
        )}
      </Section>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ maxWidth: 640 }}>
        Never leave a new pack charging unattended until it has proved itself. A permanent charging point is the work of
        a licensed electrician.
      </Typography>
      <PartPicker
        kind={picking ? 'charger' : null}
        onClose={() => {
          setPicking(false);
        }}
      />
    </Box>
  );
}
