import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, reach, unwrap } from '../../api/client';
import type { VehicleKind } from '../../api/types';
import { kindWords } from '../../common/kinds';

/** Asks for a name and a kind; everything else starts from the handbook. */
export function NewConversion({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<VehicleKind>('van');
  const client = useQueryClient();
  const navigate = useNavigate();
  const add = useMutation({
    mutationFn: () => reach(async () => unwrap(await api.POST('/api/v1/conversions', { body: { name, kind } }))),
    onSuccess: async (added) => {
      await client.invalidateQueries({ queryKey: ['conversions'] });
      setName('');
      onClose();
      await navigate(`/c/${added.id}/brief/A`);
    },
  });
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="new-title">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          add.mutate();
        }}
      >
        <DialogTitle id="new-title">New conversion</DialogTitle>
        <DialogContent>
          <Stack spacing={3} sx={{ pt: 1 }}>
            <TextField
              autoFocus
              label="Name of the vehicle"
              value={name}
              onChange={(e) => {
                setName(e.target.value);
              }}
              error={add.isError}
              helperText={add.error?.message ?? 'as the workshop calls it'}
            />
            <TextField
              select
              label="Kind"
              value={kind}
              onChange={(e) => {
                setKind(e.target.value as VehicleKind);
              }}
            >
              {(Object.keys(kindWords) as VehicleKind[]).map((k) => (
                <MenuItem key={k} value={k} dense>
                  {kindWords[k]}
                </MenuItem>
              ))}
            </TextField>
            <Typography variant="caption" color="text.secondary">
              Mass, drag, tyres and gears start from handbook values of the kind.
            </Typography>
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={add.isPending}>
            Begin
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
