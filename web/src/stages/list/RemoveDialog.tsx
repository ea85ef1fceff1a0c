import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, reach, unwrap } from '../../api/client';
import type { ConversionSummary } from '../../api/types';

/** Asks once before a conversion and its variants are removed. */
export function RemoveDialog({ conversion, onClose }: { conversion: ConversionSummary | null; onClose: () => void }) {
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: async (id: string) => {
      const path = { id };
      const { version } = unwrap(await reach(() => api.GET('/api/v1/conversions/{id}', { params: { path } })));
      const params = { path, query: { version } };
      unwrap(await reach(() => api.DELETE('/api/v1/conversions/{id}', { params })));
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['conversions'] });
      onClose();
    },
  });
  return (
    <Dialog open={conversion !== null} onClose={onClose} aria-labelledby="remove-title">
      <DialogTitle id="remove-title">Remove {conversion?.name}?</DialogTitle>
      <DialogContent>
        <Typography>
          Its brief, donor and {conversion?.designs.length === 1 ? 'variant' : 'variants'}{' '}
          {conversion?.designs.join(', ')} are removed for good.
        </Typography>
        {remove.isError && (
          <Typography color="error" role="alert">
            {remove.error.message}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Keep it</Button>
        <Button
          color="error"
          variant="outlined"
          disabled={remove.isPending}
          onClick={() => {
            if (conversion) remove.mutate(conversion.id);
          }}
        >
          Remove
        </Button>
      </DialogActions>
    </Dialog>
  );
}
