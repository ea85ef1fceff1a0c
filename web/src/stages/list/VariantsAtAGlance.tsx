import { Box, Link as MuiLink, Tooltip, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'wouter';
import { glanceQuery } from '../../api/stored';
import type { ConversionSummary } from '../../api/types';
import { verdicts } from '../../common/claims';
import { useSaid } from '../../units/UnitsContext';

/** Each variant as a link with a glyph a goal: in which there is trouble is seen before it is opened. */
export function VariantsAtAGlance({ conversion }: { conversion: ConversionSummary }) {
  const glance = useQuery(glanceQuery(conversion.id, conversion.updated_at));
  const said = useSaid();
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, rowGap: 0.5 }}>
      {conversion.designs.map((label) => {
        const variant = glance.data?.find((v) => v.label === label);
        const met = variant?.claims.filter((c) => c.verdict === 'met').length ?? 0;
        const words = !variant
          ? ''
          : variant.problem != null
            ? 'not complete'
            : variant.claims.length === 0
              ? 'no goals'
              : `${String(met)} of ${String(variant.claims.length)} met${variant.stops > 0 ? `, ${String(variant.stops)} ${variant.stops === 1 ? 'stop' : 'stops'}` : ''}`;
        const told = variant?.claims.map((c) => `${said(c.name)}: ${verdicts[c.verdict].word}`).join('\n');
        return (
          <Tooltip
            key={label}
            title={told ?? ''}
            describeChild
            slotProps={{ tooltip: { sx: { whiteSpace: 'pre-line' } } }}
          >
            <MuiLink
              component={Link}
              to={`/c/${conversion.id}/chain/${label}`}
              aria-label={`${conversion.name}, variant ${label}${words === '' ? '' : `: ${words}`}${variant?.proposed ? ', proposed' : ''}`}
              underline="hover"
              sx={{ color: 'text.primary', whiteSpace: 'nowrap', minHeight: 24 }}
            >
              <b>{label}</b>{' '}
              {variant?.claims.map((c, i) => (
                <Box
                  component="span"
                  aria-hidden
                  key={String(i)}
                  sx={{ color: verdicts[c.verdict].color, letterSpacing: '0.05em' }}
                >
                  {verdicts[c.verdict].glyph}
                </Box>
              ))}{' '}
              <Typography component="span" variant="caption" color="text.secondary">
                {words}
                {variant?.proposed && ' · proposed'}
              </Typography>
            </MuiLink>
          </Tooltip>
        );
      })}
    </Box>
  );
}
