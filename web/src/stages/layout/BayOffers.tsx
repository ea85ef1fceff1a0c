import { Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { bayQuery } from '../../api/queries';
import { Failed, Loading } from '../../common/States';
import { WideTable } from '../../common/WideTable';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useResults } from '../../workbench/WorkbenchContext';

const FIRST = 10;

/** What of every module of the library fits into a bay. */
export function BayOffers({ index, name }: { index: number; name: string }) {
  const { settled } = useResults();
  const system = useUnits();
  const [all, setAll] = useState(false);
  const query = useQuery(bayQuery(settled, index));
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="the library" />;
  if (query.data.length === 0) return <Typography>No module of the library fits there.</Typography>;
  const shown = all ? query.data : query.data.slice(0, FIRST);
  const currency = settled.brief.currency ?? '';
  return (
    <>
      <WideTable aria-label={`What of the library fits: ${name}`}>
        <TableHead>
          <TableRow>
            <TableCell>module</TableCell>
            <TableCell align="right">fit</TableCell>
            <TableCell align="right">energy</TableCell>
            <TableCell align="right">mass</TableCell>
            <TableCell align="right">all in one string</TableCell>
            <TableCell align="right">price</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {shown.map((o) => (
            <TableRow key={o.name}>
              <TableCell component="th" scope="row">
                {o.name}
                {!o.stated && (
                  <Typography component="span" variant="caption" color="text.secondary">
                    {' '}
                    ○ size guessed
                  </Typography>
                )}
              </TableCell>
              <TableCell align="right" className="figures">
                {o.modules}
                {o.modules < o.by_room && ` of ${String(o.by_room)}, by mass`}
              </TableCell>
              <TableCell align="right" className="figures">
                {showText(o.energy_kwh, 'kWh', system, 3)}
              </TableCell>
              <TableCell align="right" className="figures">
                {showText(o.mass_kg, 'kg', system, 3)}
              </TableCell>
              <TableCell align="right" className="figures">
                {showText(o.string_v, 'V', system, 3)}
              </TableCell>
              <TableCell align="right" className="figures">
                {o.price > 0 ? `${figures(o.price, 4)} ${o.currency ?? currency}` : '–'}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
      {query.data.length > shown.length && (
        <Button
          onClick={() => {
            setAll(true);
          }}
        >
          {query.data.length - shown.length} more
        </Button>
      )}
    </>
  );
}
