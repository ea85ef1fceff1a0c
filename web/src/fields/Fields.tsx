import { Box, MenuItem, TextField, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import type { Source } from '../api/types';
import { field, typicalDonor } from '../units/units';
import { get } from '../workbench/merge';
import { useWorkbench } from '../workbench/WorkbenchContext';
import { QuantityField } from './QuantityField';

/** Records whose values say where they come from. */
const sourced = new Set(['Donor', 'Motor', 'Controller', 'Module', 'Charger']);

/** Numbers of one record of the draft, by their keys in the field catalogue. */
export function Numbers({
  group,
  at,
  keys,
  width,
  sourcesAt,
  prefix = '',
}: {
  group: string;
  at: string;
  keys: string[];
  width?: number;
  /** Record that keeps the provenance, when it is not this one; keys there begin with the prefix. */
  sourcesAt?: string;
  prefix?: string;
}) {
  const { draft, edit, editAll } = useWorkbench();
  const handbook = group === 'Donor' ? typicalDonor(draft.donor.kind) : {};
  const kept = sourcesAt ?? (sourced.has(group) ? at : undefined);
  const sources =
    kept === undefined ? undefined : (get(draft, `${kept}.sources`) as Record<string, Source> | undefined);
  const unknownOf = (key: string) => {
    const value = handbook[key];
    if (value === undefined) return undefined;
    const take = () => {
      editAll([
        [`${at}.${key}`, value],
        [`${at}.sources`, { ...sources, [key]: { from: 'handbook' } }],
      ]);
    };
    return { value, word: 'handbook', take };
  };
  return (
    <>
      {keys.map((key) => (
        <QuantityField
          key={key}
          of={field(group, key)}
          unknown={unknownOf(key)}
          value={get(draft, `${at}.${key}`) as number | undefined}
          currency={draft.brief.currency ?? ''}
          onChange={(v) => {
            edit(`${at}.${key}`, v);
          }}
          source={kept === undefined ? undefined : (sources?.[prefix + key] ?? 'unsaid')}
          onSource={(source) => {
            // Keys may hold dots, so the record is written whole.
            if (kept !== undefined) edit(`${kept}.sources`, { ...sources, [prefix + key]: source });
          }}
          {...(width === undefined ? {} : { width })}
        />
      ))}
    </>
  );
}

/** A text of the draft. */
export function Words({
  at,
  label,
  placeholder,
  width = 240,
  multiline = false,
}: {
  at: string;
  label: string;
  placeholder?: string;
  width?: number;
  multiline?: boolean;
}) {
  const { draft, edit } = useWorkbench();
  return (
    <TextField
      label={label}
      value={(get(draft, at) as string | undefined) ?? ''}
      multiline={multiline}
      placeholder={placeholder ?? ''}
      onChange={(e) => {
        edit(at, e.target.value);
      }}
      sx={{ width }}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}

/** A choice of the draft. */
export function Choice({
  at,
  label,
  options,
  width = 160,
  fallback,
  onChange,
}: {
  at: string;
  label: string;
  options: [string, string][];
  width?: number;
  fallback?: string;
  /** Writes the choice where more follows from it than the place itself. */
  onChange?: (value: string) => void;
}) {
  const { draft, edit } = useWorkbench();
  return (
    <TextField
      select
      label={label}
      value={(get(draft, at) as string | undefined) ?? fallback ?? ''}
      onChange={(e) => {
        if (onChange) onChange(e.target.value);
        else edit(at, e.target.value);
      }}
      sx={{ width }}
      slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
    >
      {options.map(([value, word]) => (
        <MenuItem key={value} value={value} dense>
          {word}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** A headed part of a stage, divided by a hairline. */
export function Section({
  title,
  note,
  action,
  children,
}: {
  title: string;
  note?: string;
  action?: ReactNode;
  children: ReactNode;
}) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ borderTop: '1px solid', borderColor: 'divider', py: 2, '&:first-of-type': { borderTop: 0, pt: 0 } }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1.5, mb: 1.5 }}>
        <Typography variant="h2">{title}</Typography>
        {note !== undefined && (
          <Typography variant="caption" color="text.secondary">
            {note}
          </Typography>
        )}
        <Box sx={{ flex: 1 }} />
        {action}
      </Box>
      {children}
    </Box>
  );
}

/** Fields in a row that wraps. */
export function Row({ children }: { children: ReactNode }) {
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 3, rowGap: 2, alignItems: 'flex-start' }}>{children}</Box>
  );
}
