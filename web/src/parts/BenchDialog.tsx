import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, reach, unwrap } from '../api/client';
import type { BenchResult, BenchSheet } from '../api/types';
import { QuantityField } from '../fields/QuantityField';
import { field, figures, neededWords } from '../units/units';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { rows } from './rows';
import { typedLines } from '../units/refusal';

const numbers = ['max_speed_rpm', 'peak_current_a', 'continuous_power_w', 'mass_kg'] as const;

function Outcome({ result }: { result: BenchResult }) {
  const fitted: [string, { value: number; half_width: number }, string][] = [
    ['Torque constant, Kt = Ke', result.torque_constant_nm_a, 'N·m/A'],
    ['Winding resistance', result.resistance_ohm, 'Ω'],
    ['No-load current', result.no_load_current_a, 'A'],
  ];
  const worst = Math.max(...result.residuals_v.map(Math.abs));
  return (
    <Box sx={{ borderTop: '2px solid', borderColor: 'text.primary', mt: 2, pt: 1.5 }}>
      {fitted.map(([word, f, unit]) => (
        <Box key={word} sx={{ display: 'flex', justifyContent: 'space-between' }}>
          <Typography>{word}</Typography>
          <Typography className="figures" sx={{ fontWeight: 600 }}>
            {figures(f.value)} ± {figures(f.half_width)} {unit}
          </Typography>
        </Box>
      ))}
      <Typography variant="caption" color="text.secondary">
        {figures(result.rpm_per_volt)} rpm per volt, no-load; the readings lie within {figures(worst)} V of the fit
      </Typography>
    </Box>
  );
}

/** An unknown motor on the bench: readings in, constants with bands out, kept as a part of the library. */
export function BenchDialog({
  label = 'Bench-test an unknown motor',
  onKept,
}: {
  label?: string;
  onKept?: () => void;
}) {
  const { editDesign, say } = useWorkbench();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('Motor from the bench');
  const [kind, setKind] = useState<BenchSheet['kind']>('brushed_pm');
  const [noLoad, setNoLoad] = useState('');
  const [locked, setLocked] = useState('');
  const [values, setValues] = useState<Record<string, number | undefined>>({});
  const [slip, setSlip] = useState('');
  const fit = useMutation({
    mutationFn: (sheet: BenchSheet) => reach(async () => unwrap(await api.POST('/api/v1/bench', { body: sheet }))),
  });
  const keep = useMutation({
    mutationFn: (motor: BenchResult['motor']) =>
      reach(async () => unwrap(await api.POST('/api/v1/library', { body: { part: 'motor', ...motor } }))),
    onSuccess: (_, motor) => {
      editDesign('motor', motor);
      void client.invalidateQueries({ queryKey: ['library'] });
      say(`${motor.name} is in the library and in this variant.`);
      setOpen(false);
      onKept?.();
    },
  });
  const problems = fit.error || keep.error ? typedLines(fit.error ?? keep.error) : slip === '' ? [] : [slip];
  const compute = () => {
    const free = rows(noLoad, [3]);
    const held = rows(locked, [2]);
    const missing = neededWords([
      ...numbers.filter((k) => values[k] === undefined).map((k) => field('BenchSheet', k).label.toLowerCase()),
      ...(noLoad.trim() === '' ? ['readings without load'] : []),
      ...(locked.trim() === '' ? ['readings with the shaft held'] : []),
    ]);
    const wrong = typeof free === 'string' ? `Without load, ${free}` : typeof held === 'string' ? `Held, ${held}` : '';
    setSlip(missing || wrong);
    if (typeof free === 'string' || typeof held === 'string' || missing !== '') return;
    fit.mutate({
      name,
      kind,
      no_load: free.map(([volts_v = 0, amps_a = 0, speed_rpm = 0]) => ({ volts_v, amps_a, speed_rpm })),
      locked: held.map(([volts_v = 0, amps_a = 0]) => ({ volts_v, amps_a })),
      max_speed_rpm: values.max_speed_rpm ?? 0,
      peak_current_a: values.peak_current_a ?? 0,
      continuous_power_w: values.continuous_power_w ?? 0,
      mass_kg: values.mass_kg ?? 0,
    });
  };
  return (
    <>
      <Button
        onClick={() => {
          setOpen(true);
        }}
      >
        {label}
      </Button>
      <Dialog
        open={open}
        onClose={() => {
          setOpen(false);
        }}
        maxWidth="md"
        fullWidth
      >
        <DialogTitle>Bench sheet</DialogTitle>
        <DialogContent>
          <Typography color="warning.main" variant="body2" sx={{ mb: 1.5 }}>
            Bolt the motor down, guard the shaft, stand clear. Hold the shaft only at a few volts and for a second: all
            of the power goes into the winding.
          </Typography>
          <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', mb: 2 }}>
            <TextField
              label="Name of the part"
              value={name}
              onChange={(e) => {
                setName(e.target.value);
              }}
              sx={{ width: 220 }}
            />
            <TextField
              select
              label="Kind"
              value={kind}
              onChange={(e) => {
                setKind(e.target.value as BenchSheet['kind']);
              }}
              sx={{ width: 190 }}
            >
              <MenuItem value="brushed_pm">brushed, magnets</MenuItem>
              <MenuItem value="hub">hub</MenuItem>
              <MenuItem value="pm_synchronous">brushless, magnets</MenuItem>
            </TextField>
            {numbers.map((key) => (
              <QuantityField
                key={key}
                of={field('BenchSheet', key)}
                value={values[key]}
                width={120}
                onChange={(v) => {
                  setValues({ ...values, [key]: v });
                }}
              />
            ))}
          </Box>
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' }, gap: 3 }}>
            <TextField
              label="Without load: volts, amps, rpm; a row each"
              placeholder={'12 2.1 820\n24 2.4 1650\n36 2.7 2480'}
              value={noLoad}
              onChange={(e) => {
                setNoLoad(e.target.value);
              }}
              multiline
              minRows={4}
              slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
            />
            <TextField
              label="Shaft held: volts, amps; a row each"
              placeholder={'1.2 41\n2.0 69'}
              value={locked}
              onChange={(e) => {
                setLocked(e.target.value);
              }}
              multiline
              minRows={4}
              slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
            />
          </Box>
          {problems.map((p) => (
            <Typography key={p} role="alert" color="error" sx={{ mt: 1 }}>
              {p}
            </Typography>
          ))}
          {fit.data && <Outcome result={fit.data} />}
        </DialogContent>
        <DialogActions>
          <Button
            color="inherit"
            onClick={() => {
              setOpen(false);
            }}
          >
            Close
          </Button>
          <Button variant={fit.data ? 'text' : 'contained'} onClick={compute} disabled={fit.isPending}>
            Work out its constants
          </Button>
          {fit.data && (
            <Button
              variant="contained"
              disabled={keep.isPending}
              onClick={() => {
                keep.mutate(fit.data.motor);
              }}
            >
              Keep it and use it here
            </Button>
          )}
        </DialogActions>
      </Dialog>
    </>
  );
}
