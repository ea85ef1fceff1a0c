import {
  Alert,
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
import type { Part, PartKind, Plate } from '../api/types';
import { Row } from '../fields/Fields';
import { QuantityField } from '../fields/QuantityField';
import { typedLines } from '../units/refusal';
import { field, neededWords } from '../units/units';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { chemistries, motorKinds, one } from './records';

/** What a plate tells of each kind of part, in the order it is read; those that are needed first. */
const figures: Record<PartKind, { needed: string[]; helps: string[]; note: string }> = {
  motor: {
    needed: [],
    helps: ['power_w', 'volts_v', 'amps_a', 'speed_rpm', 'price'],
    note: 'The rated power, or volts and amps, is enough.',
  },
  controller: {
    needed: ['volts_v', 'amps_a'],
    helps: ['price'],
    note: 'Volts as it is sold, such as 48; it is taken to bear a full pack of that voltage and no more. Battery amps.',
  },
  module: {
    needed: ['volts_v', 'capacity_ah'],
    helps: ['mass_kg', 'price'],
    note: 'Of one cell, module or battery, as it is bought.',
  },
  charger: { needed: ['volts_v', 'amps_a'], helps: ['price'], note: 'Its highest output voltage and current.' },
};

/** A part of which only a few figures are known: the rest comes from its class, marked as guessed, and the bands show what that costs. */
export function OwnPartDialog({
  kind,
  onClose,
  onUse,
}: {
  kind: PartKind | null;
  onClose: () => void;
  onUse: (part: Part) => void;
}) {
  const { draft } = useWorkbench();
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [of, setOf] = useState('');
  /** It was sent off before all that is needed was there. */
  const [incomplete, setIncomplete] = useState(false);
  const [known, setKnown] = useState<Record<string, number | undefined>>({});
  const choices = kind === 'module' ? chemistries : motorKinds;
  const chosen = choices.some(([value]) => value === of) ? of : kind === 'module' ? 'lfp' : 'pm_synchronous';
  const close = () => {
    setName('');
    setKnown({});
    setIncomplete(false);
    make.reset();
    onClose();
  };
  const make = useMutation({
    mutationFn: () => {
      const kindOf =
        kind === 'module'
          ? { chemistry: chosen }
          : kind === 'charger'
            ? {}
            : ({ kind: chosen } as Record<string, string>);
      const given = Object.fromEntries(Object.entries(known).filter(([, v]) => v !== undefined));
      const plate = { part: kind, name: name.trim() || `Own ${one[kind ?? 'motor']}`, ...kindOf, ...given };
      return reach(async () => {
        const part = unwrap(await api.POST('/api/v1/plates', { body: plate as unknown as Plate }));
        // Kept among the own parts, where it can be filled in later and is offered again.
        unwrap(await api.POST('/api/v1/library', { body: part }));
        return part;
      });
    },
    onSuccess: async (part) => {
      await client.invalidateQueries({ queryKey: ['library'] });
      onUse(part);
      close();
    },
  });
  const asked = kind ? figures[kind] : undefined;
  const missing = neededWords(
    (asked?.needed ?? []).filter((key) => known[key] === undefined).map((key) => field('Plate', key).label),
  );
  const problems = incomplete && missing !== '' ? [missing] : typedLines(make.error);
  return (
    <Dialog open={kind !== null} onClose={close} fullWidth maxWidth="sm" aria-labelledby="own-part-title">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          setIncomplete(missing !== '');
          if (missing === '') make.mutate();
        }}
      >
        <DialogTitle id="own-part-title">Own {kind ? one[kind] : 'part'}, half known</DialogTitle>
        <DialogContent>
          <Typography variant="caption" color="text.secondary" component="p" sx={{ mb: 2 }}>
            {asked?.note} Everything else is taken from its class and marked as guessed; the bands widen accordingly and
            narrow again as you fill it in. It is kept in the library.
          </Typography>
          <Row>
            <TextField
              autoFocus
              label="Name"
              value={name}
              placeholder={`Own ${one[kind ?? 'motor']}`}
              onChange={(e) => {
                setName(e.target.value);
              }}
              slotProps={{ inputLabel: { shrink: true } }}
              sx={{ width: 240 }}
            />
            {kind !== 'charger' && (
              <TextField
                select
                label={kind === 'module' ? 'Chemistry' : kind === 'controller' ? 'For a motor of kind' : 'Kind'}
                value={chosen}
                onChange={(e) => {
                  setOf(e.target.value);
                }}
                sx={{ width: 240 }}
              >
                {choices.map(([value, word]) => (
                  <MenuItem key={value} value={value} dense>
                    {word}
                  </MenuItem>
                ))}
              </TextField>
            )}
            {[...(asked?.needed ?? []), ...(asked?.helps ?? [])].map((key) => {
              const needed = asked?.needed.includes(key) === true;
              const entry = field('Plate', key);
              return (
                <QuantityField
                  key={key}
                  of={{ ...entry, default: needed ? 'needed' : entry.default }}
                  label={needed ? `${entry.label} *` : entry.label}
                  value={known[key]}
                  currency={draft.brief.currency ?? ''}
                  width={240}
                  onChange={(value) => {
                    setKnown((k) => ({ ...k, [key]: value }));
                  }}
                />
              );
            })}
          </Row>
          {problems.length > 0 && (
            <Alert severity="error" sx={{ mt: 2 }}>
              {problems.map((line) => (
                <div key={line}>{line}</div>
              ))}
            </Alert>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={make.isPending}>
            Use it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
