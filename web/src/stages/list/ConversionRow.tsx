import { Box, Button, Link as MuiLink, Typography } from '@mui/material';
import { Link } from 'wouter';
import type { ConversionSummary } from '../../api/types';
import { kindWords } from '../../common/kinds';
import { UnitsContext } from '../../units/UnitsContext';
import { VariantsAtAGlance } from './VariantsAtAGlance';

/** One conversion of the list, with how its variants stand. */
export function ConversionRow({ conversion: c, onRemove }: { conversion: ConversionSummary; onRemove: () => void }) {
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', md: 'minmax(220px, 3fr) 110px minmax(200px, 3fr) 130px auto' },
        columnGap: 2,
        rowGap: 0.5,
        alignItems: 'baseline',
        py: 1.25,
        borderTop: '1px solid',
        borderColor: 'divider',
        '&:hover': { bgcolor: 'background.paper' },
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <MuiLink
          component={Link}
          to={`/c/${c.id}/chain`}
          sx={{ fontWeight: 650, color: 'text.primary', overflowWrap: 'anywhere' }}
        >
          {c.name}
        </MuiLink>
        <Typography variant="caption" component="div" color="text.secondary">
          {c.notes}
        </Typography>
      </Box>
      <Typography variant="body2">{kindWords[c.kind as keyof typeof kindWords]}</Typography>
      <UnitsContext value={c.units}>
        <VariantsAtAGlance conversion={c} />
      </UnitsContext>
      <Typography variant="caption" className="figures" color="text.secondary">
        {new Date(c.updated_at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
      </Typography>
      <Box sx={{ whiteSpace: 'nowrap', ml: { xs: -0.75, md: 0 } }}>
        <Button
          color="inherit"
          component="a"
          href={`/api/v1/conversions/${c.id}/file`}
          download={`${c.name}.json`}
          aria-label={`Export ${c.name}`}
          title="Save the conversion with all its variants as a file"
          sx={{ color: 'text.secondary' }}
        >
          export
        </Button>
        <Button color="inherit" aria-label={`Remove ${c.name}`} sx={{ color: 'text.secondary' }} onClick={onRemove}>
          remove
        </Button>
      </Box>
    </Box>
  );
}
