import { Box, Typography } from '@mui/material';
import type { SearchReport } from '../../api/types';
import { whole } from './words';
import { useSaid } from '../../units/UnitsContext';

/** Where every raw combination went; bars on a scale of powers of ten, since the first cut takes most. */
export function ReportView({ report }: { report: SearchReport }) {
  const said = useSaid();
  const lines = [
    ...report.cuts.map((c) => ({
      name: said(c.name),
      id: c.rule,
      n: c.combinations,
      note: c.simulated > 0 ? `${whole(c.simulated)} of them simulated` : '',
    })),
    { name: 'cannot beat the list even at their best', id: 'bound', n: report.dominated_by_bound, note: '' },
    { name: 'simulated, and dominated', id: 'dominated', n: report.dominated, note: '' },
    { name: 'in the list', id: 'kept', n: report.kept, note: '' },
    { name: 'not looked at', id: 'undecided', n: report.undecided, note: '' },
  ].filter((l) => l.n > 0);
  const log = (n: number) => Math.log10(Math.max(1, n));
  return (
    <Box data-testid="report">
      <Typography variant="body2" sx={{ mb: 1 }}>
        <b>{whole(report.raw)}</b> raw combinations, <b>{whole(report.bounded)}</b> pairs of drive and pack looked at in
        closed form, <b>{whole(report.simulated)}</b> simulated, <b>{whole(report.driven)}</b> driven for their range.
      </Typography>
      {lines.map((l) => (
        <Box
          key={l.id}
          sx={{
            display: 'grid',
            gridTemplateColumns: 'minmax(180px, 3fr) 4fr 150px',
            gap: 1,
            alignItems: 'center',
            py: 0.25,
          }}
        >
          <Typography variant="caption" title={l.id}>
            {l.name}
            {l.note && (
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {' '}
                ({l.note})
              </Box>
            )}
          </Typography>
          <Box aria-hidden sx={{ height: 7, bgcolor: 'sheet.flow' }}>
            <Box
              sx={{
                height: 7,
                width: `${String((100 * log(l.n)) / log(report.raw))}%`,
                bgcolor: l.id === 'kept' ? 'success.main' : 'sheet.bar',
              }}
            />
          </Box>
          <Typography variant="caption" className="figures" align="right">
            {whole(l.n)}
          </Typography>
        </Box>
      ))}
      <Typography variant="caption" color="text.secondary">
        Each combination is counted once, under the first rule that cut it. Bars grow with the power of ten.
      </Typography>
    </Box>
  );
}
