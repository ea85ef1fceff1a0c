import { Box, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import type { Tornado } from '../api/types';
import { sourceWords } from '../fields/QuantityField';
import { mono } from '../theme';
import { useClaimFigure } from '../common/claims';
import { useSaid } from '../units/UnitsContext';

/** Inputs shown; the rest sways the figure less than these. */
const shown = 10;

/** The band of a figure, the inputs that sway it, and the measurements that would narrow it. */
export default function TornadoView({ tornado }: { tornado: Tornado }) {
  const theme = useTheme();
  const figure = useClaimFigure();
  const said = useSaid();
  const { band, central, influences, narrowings } = tornado;
  const text = (v: number | null | undefined) => (v == null ? 'never' : figure(v, band.unit).text);
  const unit = figure(central ?? 0, band.unit).unit;
  const rows = influences.slice(0, shown);
  const ends = rows.flatMap((i) => [i.low, i.high]).filter((v): v is number => v != null);
  const [least, most] = [Math.min(...ends, central ?? Infinity), Math.max(...ends, central ?? -Infinity)];
  const place = (v: number) => (most > least ? ((v - least) / (most - least)) * 100 : 50);
  return (
    <Box>
      <Typography sx={{ fontFamily: mono, fontSize: '1.5rem', fontWeight: 600, letterSpacing: '-0.03em' }}>
        {text(band.p10)} – {text(band.p90)}
        <Box component="span" sx={{ fontSize: '0.875rem', fontWeight: 400, color: 'text.secondary', ml: 1 }}>
          {unit}
        </Box>
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 2 }}>
        four times in five; half of the samples lie below {text(band.p50)} {unit}
      </Typography>
      {narrowings.length > 0 && (
        <Box component="section" aria-label="What to measure" sx={{ mb: 3 }}>
          <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
            What would narrow it
          </Typography>
          {narrowings.map((n) => (
            <Box
              key={n.measurement}
              sx={{ display: 'grid', gridTemplateColumns: '1fr 190px', columnGap: 2, py: 0.75, alignItems: 'center' }}
            >
              <Typography variant="body2" sx={{ '&::first-letter': { textTransform: 'uppercase' } }}>
                {said(n.advice).split(':')[0]}
              </Typography>
              <Typography variant="body2" className="figures" align="right">
                band {text(n.width_now)} → {text(n.width_then)} {unit}
              </Typography>
              <Box sx={{ gridColumn: '1 / -1', height: 4, bgcolor: 'divider', mt: 0.5 }} aria-hidden>
                <Box
                  sx={{
                    height: 4,
                    width: `${String((100 * n.width_then) / n.width_now)}%`,
                    bgcolor: 'secondary.main',
                  }}
                />
              </Box>
            </Box>
          ))}
        </Box>
      )}
      <Typography variant="h3" component="h3">
        Main influences
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mb: 1 }}>
        each input from its low end to its high end, the rest at their medians
      </Typography>
      {rows.length === 0 && <Typography color="text.secondary">Nothing uncertain has a say in it.</Typography>}
      <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {rows.map((i) => {
          const [a, b] = [place(i.low ?? most), place(i.high ?? most)];
          const [left, right] = a <= b ? [i.low, i.high] : [i.high, i.low];
          return (
            <Box component="li" key={i.path} sx={{ py: 0.75, borderTop: '1px solid', borderColor: 'divider' }}>
              <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline' }}>
                <Typography variant="body2" sx={{ flex: 1 }}>
                  {i.label}
                </Typography>
                <Typography
                  variant="caption"
                  color={i.from === 'seller' || i.from === 'guess' ? 'warning.main' : 'text.secondary'}
                >
                  {sourceWords[i.from].mark} {sourceWords[i.from].word},{' '}
                  {i.from === 'seller'
                    ? `up to ${i.spread_percent.toFixed(0)} % less`
                    : `± ${i.spread_percent.toFixed(0)} %`}
                </Typography>
              </Box>
              <Box sx={{ display: 'grid', gridTemplateColumns: '64px 1fr 64px', gap: 1, alignItems: 'center' }}>
                <Typography variant="caption" className="figures" align="right">
                  {text(left)}
                </Typography>
                <svg viewBox="0 0 100 10" width="100%" height="12" preserveAspectRatio="none" aria-hidden>
                  <rect
                    x={Math.min(a, b)}
                    width={Math.max(0.5, Math.abs(b - a))}
                    y="2"
                    height="6"
                    fill={theme.vars?.palette.sheet.bar}
                  />
                  {central != null && (
                    <line
                      x1={place(central)}
                      x2={place(central)}
                      y1="0"
                      y2="10"
                      stroke={theme.vars?.palette.text.primary}
                      strokeWidth="1.5"
                      vectorEffect="non-scaling-stroke"
                    />
                  )}
                </svg>
                <Typography variant="caption" className="figures">
                  {text(right)}
                </Typography>
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
