import { Box, Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { memo } from 'react';
import type { CircuitPlace, ElectricsSheet, Slot } from '../../api/types';
import { Section } from '../../fields/Fields';
import { WideTable } from '../../common/WideTable';
import { Said } from '../../units/Said';
import { figures, showText } from '../../units/units';
import { TakeIt } from '../../parts/TakeIt';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';

function Asked({ place }: { place: CircuitPlace }) {
  return (
    <>
      {place.asks.map((a, i) => (
        <span key={JSON.stringify(a)}>
          {i > 0 && '; '}
          <Said of={a} />
        </span>
      ))}
    </>
  );
}

/** One place as a row. */
const PlaceRow = memo(function PlaceRow({
  place: p,
  currency,
  onTake,
  onOpen,
}: {
  place: CircuitPlace;
  currency: string;
  onTake: (place: CircuitPlace) => void;
  onOpen: (slot: Slot) => void;
}) {
  const system = useUnits();
  return (
    <TableRow data-slot={p.slot}>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>
        {p.name}
        {p.count !== 1 && ` (${figures(p.count)}${p.slot === 'traction_cable' ? ' m' : ' ×'})`}
      </TableCell>
      <TableCell sx={{ color: 'text.secondary' }}>
        <Asked place={p} />
      </TableCell>
      <TableCell>
        <Box component="span" sx={{ fontWeight: p.chosen == null ? 400 : 600 }}>
          {p.chosen ?? '–'}
        </Box>
        {p.severity != null &&
          p.severity !== 'note' &&
          p.troubles.map((t) => (
            <Typography
              key={JSON.stringify(t)}
              variant="caption"
              component="div"
              sx={{ color: p.severity === 'stop' ? 'error.main' : 'warning.main' }}
            >
              {p.severity === 'stop' ? '■' : '▲'} <Said of={t} />
            </Typography>
          ))}
      </TableCell>
      <TableCell>
        {p.least ? (
          <>
            {p.least.name}{' '}
            <Typography component="span" variant="caption" color="text.secondary" className="figures">
              {showText(p.count * p.least.mass_kg, 'kg', system)},{' '}
              {p.least.price ? `${figures(p.count * p.least.price, 4)} ${currency}` : 'no price'}
            </Typography>
          </>
        ) : p.chosen != null ? (
          <Typography component="span" variant="caption" color="text.secondary">
            {p.severity == null || p.severity === 'note' ? 'it is' : 'none in the library'}
          </Typography>
        ) : (
          'none in the library'
        )}
      </TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }} align="right">
        {p.least && p.chosen == null && (
          <TakeIt
            label={`Take it: ${p.name}`}
            onTake={() => {
              onTake(p);
            }}
          />
        )}
        <Button
          aria-label={`${p.chosen == null ? 'Choose' : 'Exchange'}: ${p.name}`}
          onClick={() => {
            onOpen(p.slot);
          }}
        >
          {p.chosen == null ? 'Choose …' : 'Exchange …'}
        </Button>
      </TableCell>
    </TableRow>
  );
});

interface Acts {
  onTake: (place: CircuitPlace) => void;
  onOpen: (slot: Slot) => void;
}

/** Every place of the circuits: what it asks, what is chosen for it, and the least that suffices. */
export function Places({ sheet, ...acts }: Acts & { sheet: ElectricsSheet }) {
  const { draft } = useWorkbench();
  const { places, open_kg, open_price } = sheet;
  return <PlaceTable places={places} kg={open_kg} price={open_price} currency={draft.brief.currency ?? ''} {...acts} />;
}

interface TableProps extends Acts {
  places: CircuitPlace[];
  /** What the least for all that is open weighs and costs. */
  kg: number;
  price: number;
  currency: string;
}

const PlaceTable = memo(function PlaceTable({ places, kg, price, currency, onTake, onOpen }: TableProps) {
  const system = useUnits();
  const open = places.filter((p) => p.chosen == null);
  return (
    <Section title="What is chosen" note="the least of the library that suffices stands beside it">
      <WideTable aria-label="Places and what is chosen">
        <TableHead>
          <TableRow>
            <TableCell>place</TableCell>
            <TableCell>must</TableCell>
            <TableCell>chosen</TableCell>
            <TableCell>least that suffices</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {places.map((p) => (
            <PlaceRow key={p.slot} place={p} currency={currency} onTake={onTake} onOpen={onOpen} />
          ))}
        </TableBody>
      </WideTable>
      {open.length > 0 && (
        <Typography color="text.secondary" sx={{ mt: 1 }}>
          Chosen parts count in mass and cost. What is still open does not: about {showText(kg, 'kg', system)} and{' '}
          {figures(price, 4)} {currency} with the least that suffice.
        </Typography>
      )}
    </Section>
  );
});
