import { Box } from '@mui/material';
import type { ReactNode } from 'react';

/** Fields with the drawing they make beside them, or below where there is no room. */
export function WithDrawing({ drawing, label, children }: { drawing: ReactNode; label?: string; children: ReactNode }) {
  return (
    <Box
      component={label === undefined ? 'div' : 'section'}
      aria-label={label}
      sx={{
        mt: 2,
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 400px' },
        gap: 3,
      }}
    >
      <Box>{children}</Box>
      {drawing}
    </Box>
  );
}
