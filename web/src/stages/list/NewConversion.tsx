import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useLocation } from 'wouter';
import { api, reach, unwrap } from '../../api/client';
import type { Answers, UnitSystem, VehicleKind } from '../../api/types';
import { FirstQuestions } from '../../common/FirstQuestions';
import { kindWords, unitWords } from '../../common/kinds';
import { UnitsContext } from '../../units/UnitsContext';

/** A name, a kind and three questions; a chain is proposed from them, or nothing but the handbook's donor. */
export function NewConversion({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<VehicleKind>('car');
  const [units, setUnits] = useState<UnitSystem>('metric');
  const [answers, setAnswers] = useState<Answers>({});
  const client = useQueryClient();
  const [, navigate] = useLocation();
  const [unnamed, setUnnamed] = useState(false);
  const begin = (proposed: boolean) => {
    setUnnamed(name.trim() === '');
    if (name.trim() !== '') add.mutate(proposed);
  };
  const add = useMutation({
    mutationFn: (proposed: boolean) =>
      reach(async () =>
        unwrap(
          await api.POST('/api/v1/conversions', { body: { name, kind, units, ...(proposed ? { answers } : {}) } }),
        ),
      ),
    onSuccess: async (added, proposed) => {
      await client.invalidateQueries({ queryKey: ['conversions'] });
      setName('');
      setAnswers({});
      onClose();
      navigate(`/c/${added.id}/${proposed ? 'chain' : 'brief'}/A`);
    },
  });
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="new-title">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          begin(true);
        }}
      >
        <DialogTitle id="new-title">New conversion</DialogTitle>
        <DialogContent>
          <Stack spacing={2.5} sx={{ pt: 1 }}>
            <TextField
              autoFocus
              label="Name of the vehicle"
              value={name}
              onChange={(e) => {
                setName(e.target.value);
              }}
              error={add.isError || (unnamed && name.trim() === '')}
              helperText={
                unnamed && name.trim() === ''
                  ? 'Give the vehicle a name'
                  : (add.error?.message ?? 'as the workshop calls it')
              }
            />
            <Stack direction={{ xs: 'column', sm: 'row' }} spacing={2}>
              <TextField
                select
                fullWidth
                label="Kind"
                value={kind}
                onChange={(e) => {
                  setKind(e.target.value as VehicleKind);
                  setAnswers({});
                }}
                helperText="mass, drag, tyres and gears start from its handbook values"
              >
                {(Object.keys(kindWords) as VehicleKind[]).map((k) => (
                  <MenuItem key={k} value={k} dense>
                    {kindWords[k]}
                  </MenuItem>
                ))}
              </TextField>
              <TextField
                select
                label="Units"
                value={units}
                onChange={(e) => {
                  setUnits(e.target.value as UnitSystem);
                }}
                sx={{ minWidth: 150 }}
              >
                {(Object.keys(unitWords) as UnitSystem[]).map((u) => (
                  <MenuItem key={u} value={u} dense>
                    {unitWords[u]}
                  </MenuItem>
                ))}
              </TextField>
            </Stack>
            <div>
              <Typography variant="h3" component="h3" gutterBottom>
                What must it do?
              </Typography>
              <Typography variant="caption" color="text.secondary" component="p" sx={{ mb: 1.5 }}>
                Leave empty what you don&rsquo;t know. Any unit is understood: 40 mi, 60 mph.
              </Typography>
              <UnitsContext value={units}>
                <FirstQuestions kind={kind} answers={answers} onChange={setAnswers} width={168} />
              </UnitsContext>
            </div>
          </Stack>
        </DialogContent>
        {add.isPending && <LinearProgress aria-label="Looking for a chain in the library" />}
        <DialogActions sx={{ flexWrap: 'wrap', rowGap: 1 }}>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            disabled={add.isPending}
            onClick={() => {
              begin(false);
            }}
          >
            Begin without parts
          </Button>
          <Button type="submit" variant="contained" disabled={add.isPending}>
            Propose a chain
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
