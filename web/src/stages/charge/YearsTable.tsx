import { Box, Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { Design, YearOption, YearsAnswer } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { figures, showText } from '../../units/units';
import { Said } from '../../units/Said';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';

type Spread = NonNullable<YearOption['total']>;

/** A figure with the ends of its band below it. */
function Banded({
  of,
  show,
  ends = show,
}: {
  of: Spread | null | undefined;
  show: (v: number) => string;
  ends?: (v: number) => string;
}) {
  if (!of) return <>–</>;
  const end = (v: number | null | undefined) => (v == null ? 'cannot serve' : ends(v));
  return (
    <>
      {show(of.central)}
      <Typography component="span" variant="caption" color="text.secondary" sx={{ display: 'block' }}>
        {end(of.p10)} … {end(of.p90)}
      </Typography>
    </>
  );
}

/** Which of the options costs least over the years, and which waits least; equal ones are not told apart. */
function least(options: YearOption[], of: (o: YearOption) => number | undefined): YearOption | undefined {
  const known = options.filter((o) => of(o) !== undefined);
  return known.length === 0 ? undefined : known.reduce((a, b) => ((of(b) ?? 0) < (of(a) ?? 0) ? b : a));
}

/** Packs side by side over the years. */
export function YearsTable({
  answer,
  found,
  others,
  onTake,
}: {
  answer: YearsAnswer;
  /** So many before them were found by a search. */
  found: number;
  /** So many of the last are variants already. */
  others: number;
  onTake: (design: Design) => void;
}) {
  const { draft, active } = useWorkbench();
  const system = useUnits();
  const currency = draft.brief.currency ?? '';
  const bare = (v: number) => figures(Math.round(v), 6);
  const money = (v: number) => `${bare(v)} ${currency}`;
  const today = draft.designs[active.id]?.pack?.strings_in_parallel;
  const cheapest = least(answer.options, (o) => o.total?.central);
  const quickest = least(answer.options, (o) => o.waiting_h_a_year?.central);
  const same = cheapest !== undefined && cheapest === quickest;
  return (
    <>
      {!cheapest && (
        <Typography sx={{ mb: 1 }} color="error" data-testid="years-verdict">
          None of these packs makes the week and the journeys hold: mend the week first, its socket or its hours.
        </Typography>
      )}
      {cheapest && quickest && (
        <Typography sx={{ mb: 1 }} data-testid="years-verdict">
          {same || (quickest.waiting_h_a_year?.central ?? 0) === (cheapest.waiting_h_a_year?.central ?? 0) ? (
            <>
              <b>
                <Said of={cheapest.name} />
              </b>{' '}
              costs least over {figures(answer.years)} years, and none waits less.
            </>
          ) : (
            <>
              <b>
                <Said of={cheapest.name} />
              </b>{' '}
              costs least over {figures(answer.years)} years;{' '}
              <b>
                <Said of={quickest.name} />
              </b>{' '}
              waits least
              {quickest.price_per_hour_saved != null &&
                `, at ${money(quickest.price_per_hour_saved)} for each hour that is not waited`}
              .
            </>
          )}{' '}
          {answer.public_socket != null ? `Journeys charge at ${answer.public_socket}.` : ''}
        </Typography>
      )}
      <WideTable aria-label="Packs over the years" sx={{ minWidth: 880 }}>
        <TableHead>
          <TableRow>
            <TableCell>Pack</TableCell>
            <TableCell align="right">usable</TableCell>
            <TableCell align="right">pack, vehicle</TableCell>
            <TableCell align="right">parts</TableCell>
            <TableCell align="right">energy a year</TableCell>
            <TableCell align="right">stops a year</TableCell>
            <TableCell align="right">waited a year</TableCell>
            <TableCell align="right">in {figures(answer.years)} years</TableCell>
            <TableCell align="right">pays after</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {answer.options.map((o, i) => (
            <TableRow key={`${JSON.stringify(o.name)}${String(i)}`} selected={o === cheapest}>
              <TableCell>
                <b>
                  <Said of={o.name} />
                </b>
                {o.refusal && (
                  <Typography component="span" variant="caption" color="error" sx={{ display: 'block' }}>
                    ✕ <Said of={o.refusal} />
                  </Typography>
                )}
              </TableCell>
              <TableCell align="right" className="figures">
                {showText(o.usable_kwh, 'kWh', system)}
              </TableCell>
              <TableCell align="right" className="figures">
                {showText(o.pack_kg, 'kg', system)}
                <Typography component="span" variant="caption" color="text.secondary" sx={{ display: 'block' }}>
                  {showText(o.converted_kg, 'kg', system, 4)}
                </Typography>
              </TableCell>
              <TableCell align="right" className="figures">
                <Banded of={o.parts} show={money} ends={bare} />
              </TableCell>
              <TableCell align="right" className="figures">
                <Banded of={o.energy_a_year} show={money} ends={bare} />
              </TableCell>
              <TableCell align="right" className="figures">
                <Banded of={o.stops_a_year} show={(v) => figures(v)} />
              </TableCell>
              <TableCell align="right" className="figures">
                <Banded of={o.waiting_h_a_year} show={(v) => `${figures(v)} h`} />
              </TableCell>
              <TableCell align="right" className="figures">
                <Banded of={o.total} show={money} ends={bare} />
              </TableCell>
              <TableCell align="right" className="figures">
                {o.pays_after_years == null ? '–' : `${figures(o.pays_after_years)} years`}
              </TableCell>
              <TableCell align="right">
                {i >= answer.options.length - others ||
                (i < answer.options.length - others - found && o.strings === today) ? null : (
                  <Button
                    onClick={() => {
                      onTake(o.design);
                    }}
                  >
                    Take as variant
                  </Button>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
      <Box sx={{ mt: 0.5 }}>
        <Typography variant="caption" color="text.secondary">
          Small figures: eight in ten of {figures(answer.samples)} samples lie between. “Pays after” is held against the
          cheapest parts that serve. A stop fills to {figures(answer.stop_soc * 100)} % at most and takes{' '}
          {figures(answer.stop_h * 60)} minutes beside the charge.
        </Typography>
      </Box>
    </>
  );
}
