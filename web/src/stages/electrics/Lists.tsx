import { Box, Button, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { memo, useState } from 'react';
import type { ElectricsSheet } from '../../api/types';
import { download } from '../../common/download';
import { WideTable } from '../../common/WideTable';
import { Section } from '../../fields/Fields';
import { Said } from '../../units/Said';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

type Circuit = ElectricsSheet['circuit'];

/** Rows shown before more are asked for; on paper all of them are. */
const FIRST = 12;
const later = { '@media screen': { display: 'none' } };

const WireRow = memo(function WireRow({ wire: w, hidden }: { wire: Circuit['wires'][number]; hidden: boolean }) {
  const system = useUnits();
  return (
    <TableRow sx={hidden ? later : {}}>
      <TableCell className="figures">{w.id}</TableCell>
      <TableCell>{w.from}</TableCell>
      <TableCell>{w.to}</TableCell>
      <TableCell>{w.circuit === 'low_voltage' ? '12 V' : w.circuit}</TableCell>
      <TableCell className="figures">{w.cores}</TableCell>
      <TableCell className="figures">{w.section}</TableCell>
      <TableCell>{w.colour}</TableCell>
      <TableCell className="figures">{w.length_m > 0 ? showText(w.length_m, 'm', system, 2, 'height') : ''}</TableCell>
      <TableCell>{w.fuse}</TableCell>
      <TableCell>{w.lug}</TableCell>
    </TableRow>
  );
});

const PartRow = memo(function PartRow({ part: p, hidden }: { part: Circuit['parts'][number]; hidden: boolean }) {
  const system = useUnits();
  return (
    <TableRow sx={hidden ? later : {}}>
      <TableCell>
        {p.id}
        {p.severity != null && (
          <Box
            component="span"
            role="img"
            aria-label={p.severity === 'stop' ? 'stop' : 'warning'}
            sx={{ ml: 0.5, color: p.severity === 'stop' ? 'error.main' : 'warning.main' }}
          >
            {p.severity === 'stop' ? '■' : '▲'}
          </Box>
        )}
      </TableCell>
      <TableCell>{p.name}</TableCell>
      <TableCell>
        <Said of={p.rating} />
      </TableCell>
      <TableCell>{p.record}</TableCell>
      <TableCell className="figures">{figures(p.count)}</TableCell>
      <TableCell className="figures">{p.mass_kg == null ? '' : showText(p.mass_kg * p.count, 'kg', system)}</TableCell>
      <TableCell className="figures">{p.price == null ? '' : figures(p.price * p.count, 5)}</TableCell>
    </TableRow>
  );
});

/** The wiring list and the parts list, on screen and as files. */
export const Lists = memo(function Lists({ sheet, name }: { sheet: ElectricsSheet; name: string }) {
  const [all, setAll] = useState({ wires: false, parts: false });
  const { wires } = sheet.circuit;
  const parts = sheet.circuit.parts.filter((p) => p.listed);
  const more = (what: 'wires' | 'parts', count: number) =>
    !all[what] &&
    count > FIRST && (
      <Button
        onClick={() => {
          setAll({ ...all, [what]: true });
        }}
      >
        {count - FIRST} more
      </Button>
    );
  return (
    <>
      <Section
        title="Wiring list"
        note="lengths are guesses until things have their places"
        action={
          <Button
            onClick={() => {
              download(`${name}-wiring.csv`, 'text/csv', sheet.wiring_csv);
            }}
          >
            as CSV
          </Button>
        }
      >
        <WideTable aria-label="Wiring list">
          <TableHead>
            <TableRow>
              {['no.', 'from', 'to', 'circuit', 'conductors', 'section', 'colour', 'length', 'fuse', 'ends'].map(
                (h) => (
                  <TableCell key={h}>{h}</TableCell>
                ),
              )}
            </TableRow>
          </TableHead>
          <TableBody>
            {wires.map((w, i) => (
              <WireRow key={w.id} wire={w} hidden={i >= FIRST && !all.wires} />
            ))}
          </TableBody>
        </WideTable>
        {more('wires', wires.length)}
      </Section>
      <Section
        title="Parts list"
        note="what is chosen has its price and mass; the rest says what it must bear"
        action={
          <Button
            onClick={() => {
              download(`${name}-parts.csv`, 'text/csv', sheet.parts_csv);
            }}
          >
            as CSV
          </Button>
        }
      >
        <WideTable aria-label="Parts list">
          <TableHead>
            <TableRow>
              {['part', 'what', 'rating', 'record', 'count', 'mass', 'price'].map((h) => (
                <TableCell key={h}>{h}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {parts.map((p, i) => (
              <PartRow key={p.id} part={p} hidden={i >= FIRST && !all.parts} />
            ))}
          </TableBody>
        </WideTable>
        {more('parts', parts.length)}
      </Section>
    </>
  );
});
