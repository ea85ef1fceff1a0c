import { Box, Button, CircularProgress, Typography } from '@mui/material';
import { Refusal, Unreachable } from '../api/client';

export function Loading({ what }: { what: string }) {
  return (
    <Box role="status" sx={{ p: 4, display: 'flex', gap: 2, alignItems: 'center' }}>
      <CircularProgress size={18} aria-label={`Loading ${what}`} />
      <Typography color="text.secondary">Loading {what} …</Typography>
    </Box>
  );
}

/** What went wrong and what can be done about it. */
export function Failed({ error, onRetry }: { error: unknown; onRetry: () => void }) {
  const title =
    error instanceof Unreachable
      ? (error.title ?? 'The service does not answer')
      : error instanceof Refusal && error.problem.status === 404
        ? 'This is not here (any more)'
        : 'That did not work';
  const said = error instanceof Error ? error.message : 'No reason was given';
  return (
    <Box role="alert" sx={{ p: 4, maxWidth: 560 }}>
      <Typography variant="h2" gutterBottom>
        {title}
      </Typography>
      <Typography color="text.secondary" sx={{ mb: 2 }}>
        {said.replace(/[^.!?]$/, '$&.')} Nothing that was saved is lost.
      </Typography>
      <Button variant="outlined" onClick={onRetry}>
        Try again
      </Button>
    </Box>
  );
}
