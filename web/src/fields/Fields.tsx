import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { memo, type ReactNode } from 'react';
import type { Source, VehicleKind } from '../api/types';
import { field, type Field as FieldOf, typicalDonor } from '../units/units';
import { get, same } from '../workbench/merge';
import { useWorkbench, type Workbench } from '../workbench/WorkbenchContext';
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
  const kind = group === 'Donor' ? (get(draft, `${at}.kind`) as VehicleKind | undefined) : undefined;
  const handbook = kind === undefined ? {} : typicalDonor(kind);
  const kept = sourcesAt ?? (sourced.has(group) ? at : undefined);
  const sources =
    kept === undefined ? undefined : (get(draft, `${kept}.sources`) as Record<string, Source> | undefined);
  const currency = draft.brief.currency ?? '';
  return (
    <>
      {keys.map((key) => (
        <OneNumber
          key={key}
          of={field(group, key)}
          at={at}
          name={key}
          kept={kept}
          mark={prefix + key}
          sources={sources}
          typical={handbook[key]}
          value={get(draft, `${at}.${key}`) as number | undefined}
          currency={currency}
          edit={edit}
          editAll={editAll}
          width={width}
        />
      ))}
    </>
  );
}

type Edits = Pick<Workbench, 'edit' | 'editAll'>;

/** One number; painted anew only where something of its own changed, not with every edit and answer of the page. */
const OneNumber = memo(function OneNumber({
  of,
  at,
  name,
  kept,
  mark,
  sources,
  typical,
  value,
  currency,
  edit,
  editAll,
  width,
}: Edits & {
  of: FieldOf;
  at: string;
  name: string;
  /** Record that keeps the provenance. */
  kept: string | undefined;
  /** Its key there. */
  mark: string;
  sources: Record<string, Source> | undefined;
  /** What is usual for the kind of vehicle. */
  typical: number | undefined;
  value: number | undefined;
  currency: string;
  width: number | undefined;
}) {
  const unknown = typical !== undefined && {
    value: typical,
    word: 'handbook',
    take: () => {
      editAll([
        [`${at}.${name}`, typical],
        [`${at}.sources`, { ...sources, [name]: { from: 'handbook' } }],
      ]);
    },
  };
  return (
    <QuantityField
      of={of}
      unknown={unknown || undefined}
      value={value}
      currency={currency}
      onChange={(v) => {
        edit(`${at}.${name}`, v);
      }}
      source={kept === undefined ? undefined : (sources?.[mark] ?? 'unsaid')}
      onSource={(source) => {
        // Keys may hold dots, so the record is written whole.
        if (kept !== undefined) edit(`${kept}.sources`, { ...sources, [mark]: source });
      }}
      {...(width === undefined ? {} : { width })}
    />
  );
});

interface WordsProps {
  at: string;
  label: string;
  placeholder?: string;
  width?: number;
  multiline?: boolean;
}

/** A text of the draft. */
export function Words(props: WordsProps) {
  const { draft, edit } = useWorkbench();
  return <OneText {...props} value={(get(draft, props.at) as string | undefined) ?? ''} edit={edit} />;
}

const OneText = memo(function OneText({
  at,
  label,
  placeholder,
  width = 240,
  multiline = false,
  value,
  edit,
}: WordsProps & Pick<Edits, 'edit'> & { value: string }) {
  return (
    <TextField
      label={label}
      value={value}
      multiline={multiline}
      placeholder={placeholder ?? ''}
      onChange={(e) => {
        edit(at, e.target.value);
      }}
      sx={{ width }}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
});

interface ChoiceProps {
  at: string;
  label: string;
  options: [string, string][];
  width?: number;
  fallback?: string;
  /** Writes the choice where more follows from it than the place itself. */
  onChange?: (value: string) => void;
}

/** A choice of the draft. */
export function Choice(props: ChoiceProps) {
  const { draft, edit } = useWorkbench();
  const value = (get(draft, props.at) as string | undefined) ?? props.fallback ?? '';
  return <OneChoice {...props} value={value} edit={edit} />;
}

const OneChoice = memo(function OneChoice({
  at,
  label,
  options,
  width = 160,
  onChange,
  value,
  edit,
}: ChoiceProps & Pick<Edits, 'edit'> & { value: string }) {
  return (
    <TextField
      select
      label={label}
      value={value}
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
}, same);

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
      <Box
        sx={{
          display: 'flex',
          // A note that finds no room beside its title stands under it, not in a column of single words.
          flexWrap: { xs: 'wrap', sm: 'nowrap' },
          alignItems: 'baseline',
          columnGap: 1.5,
          mb: 1.5,
        }}
      >
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
