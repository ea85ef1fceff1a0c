import {
  Box,
  Button,
  Checkbox,
  Drawer,
  IconButton,
  ListItemText,
  MenuItem,
  TextField,
  Typography,
} from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, reach, unwrap } from '../../api/client';
import type { LibraryKind, Part, Source } from '../../api/types';
import { Row } from '../../fields/Fields';
import { QuantityField, sourceWords } from '../../fields/QuantityField';
import { type Field, componentKinds, field, isNeeded, keysOf, neededWords, throttleSignals } from '../../units/units';
import { get, put } from '../../workbench/merge';
import { curvePoints, rows } from '../../parts/rows';
import { cellCases, chemistries, groups, modelKeys, models, motorKinds, one } from '../../parts/records';
import { typedLines } from '../../units/refusal';

/** A record that is being written; its shape is the service's to check. */
type Draft = Record<string, unknown>;

/** Points typed or pasted, a row each; what is typed stays until it can be read. */
function Points({
  label,
  placeholder,
  columns,
  kept,
  onPoints,
}: {
  label: string;
  placeholder: string;
  columns: [number, number] | [number];
  kept: number[][];
  onPoints: (points: number[][]) => void;
}) {
  const text = kept.map((p) => p.join('  ')).join('\n');
  const [typed, setTyped] = useState<string | null>(null);
  const read = typed === null || typed.trim() === '' ? null : rows(typed, [...columns]);
  return (
    <TextField
      multiline
      minRows={3}
      maxRows={9}
      label={label}
      placeholder={placeholder}
      value={typed ?? text}
      error={typeof read === 'string'}
      helperText={typeof read === 'string' ? read : read ? `${String(read.length)} points read` : ''}
      onChange={(e) => {
        setTyped(e.target.value);
        const next = rows(e.target.value, [...columns]);
        if (typeof next !== 'string') onPoints(next);
      }}
      sx={{ width: 330 }}
      slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
    />
  );
}

/** A record of the library, new, copied or changed; every number in any unit, with where it comes from. */
export function PartEditor({
  start,
  id,
  version,
  onClose,
}: {
  start: unknown;
  /** Id and version of an own part that is changed; a new one is added without. */
  id: string | undefined;
  version: number | undefined;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [draft, setDraft] = useState<Draft>(start as Draft);
  const [problems, setProblems] = useState<string[]>([]);
  const [busy, setBusy] = useState(false);
  const kind = draft.part as LibraryKind;
  const group = groups[kind];
  // A component has the numbers of its kind, beside mass and price.
  const component = kind === 'component' ? componentKinds.find((k) => k.kind === draft.kind) : undefined;
  const keys = kind === 'component' ? [...(component?.numbers ?? []), 'mass_kg', 'price'] : keysOf(group);
  const fieldOf = (of: string, key: string): Field => {
    const found = field(of, key);
    if (!component) return found;
    // What is said of cables alone is left out of the words for others.
    const label =
      component.kind === 'cable' ? found.label.replace(/; of a cable,/, ' of') : found.label.replace(/;.*/, '');
    return { ...found, label, required: found.required || component.needs.includes(key) };
  };
  const sources = (draft.sources ?? {}) as Record<string, Source>;
  const set = (path: string, value: unknown) => {
    setDraft((d) => put(d, path, value));
  };
  const missing = () => {
    const empty = (of: string, keys: string[], prefix = '') =>
      keys
        .filter((key) => isNeeded(fieldOf(of, key)) && get(draft, prefix + key) === undefined)
        .map((key) => fieldOf(of, key).label.toLowerCase());
    const model = (get(draft, 'model.kind') as string | undefined) ?? '';
    return [
      ...(((draft.name as string | undefined) ?? '').trim() === '' ? ['name'] : []),
      ...(kind === 'motor' ? empty('MotorModel', modelKeys[model] ?? [], 'model.') : []),
      ...empty(group, keys),
    ];
  };
  const save = async () => {
    const needed = neededWords(missing());
    if (needed !== '') {
      setProblems([needed]);
      return;
    }
    setBusy(true);
    try {
      const record = draft as unknown as Part;
      const result = id
        ? await reach(() =>
            api.PUT('/api/v1/library/{id}', { params: { path: { id } }, body: { version: version ?? 0, record } }),
          )
        : await reach(() => api.POST('/api/v1/library', { body: record }));
      unwrap(result as { data?: unknown; error?: unknown; response: Response });
      await client.invalidateQueries({ queryKey: ['library'] });
      await client.invalidateQueries({ queryKey: ['newer'] });
      onClose();
    } catch (error) {
      setProblems(typedLines(error instanceof Error ? error : new Error('That did not work.')));
    } finally {
      setBusy(false);
    }
  };
  const choice = (path: string, label: string, options: [string, string][], width = 230, usual = '') => (
    <TextField
      select
      label={label}
      value={(get(draft, path) as string | undefined) ?? usual}
      onChange={(e) => {
        if (path === 'model.kind')
          set('model', e.target.value === 'points' ? { kind: 'points', points: [] } : { kind: e.target.value });
        else set(path, e.target.value);
      }}
      sx={{ width }}
      slotProps={{ inputLabel: { shrink: true } }}
    >
      {options.map(([value, word]) => (
        <MenuItem key={value} value={value} dense>
          {word}
        </MenuItem>
      ))}
    </TextField>
  );
  const several = (path: string, label: string, options: [string, string][]) => {
    const chosen = (draft[path] as string[] | undefined) ?? [];
    return (
      <TextField
        select
        label={label}
        value={chosen}
        onChange={(e) => {
          set(path, e.target.value as unknown);
        }}
        sx={{ width: 330 }}
        slotProps={{
          inputLabel: { shrink: true },
          select: {
            multiple: true,
            renderValue: (v) => (v as string[]).map((k) => options.find((m) => m[0] === k)?.[1] ?? k).join(', '),
          },
        }}
      >
        {options.map(([value, word]) => (
          <MenuItem key={value} value={value} dense>
            <Checkbox size="small" checked={chosen.includes(value)} sx={{ p: 0, mr: 1 }} />
            <ListItemText primary={word} />
          </MenuItem>
        ))}
      </TextField>
    );
  };
  const numbers = (of: string, keys: string[], prefix = '') =>
    keys.map((key) => (
      <QuantityField
        key={`${of}.${key}`}
        of={fieldOf(of, key)}
        value={get(draft, prefix + key) as number | undefined}
        currency={(draft.currency as string | undefined) ?? ''}
        onChange={(v) => {
          set(prefix + key, v);
        }}
        source={sources[prefix + key] ?? 'unsaid'}
        onSource={(source) => {
          set('sources', { ...sources, [prefix + key]: source });
        }}
        width={160}
      />
    ));
  const model = get(draft, 'model.kind') as string | undefined;
  const points = (get(draft, 'model.points') ?? []) as { speed_rpm: number; torque_nm: number; efficiency?: number }[];
  const ocv = (draft.ocv ?? []) as { soc: number; volts_v: number }[];
  return (
    <Drawer
      anchor="right"
      open
      onClose={onClose}
      slotProps={{
        paper: { sx: { width: { xs: '100%', sm: 640 } }, 'aria-labelledby': 'editor-title', role: 'dialog' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', px: 2.5, pt: 2, pb: 1, gap: 2 }}>
        <Typography variant="h2" id="editor-title">
          {id ? `Change this ${one[kind]}` : `A ${one[kind]} of your own`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" disabled={busy} onClick={() => void save()}>
          {id ? 'save' : 'add to the library'}
        </Button>
        <IconButton onClick={onClose} aria-label="Close" size="small" sx={{ fontSize: 14, width: 30 }}>
          ✕
        </IconButton>
      </Box>
      <Box sx={{ overflow: 'auto', px: 2.5, pb: 3, display: 'grid', gap: 2.5, alignContent: 'start' }}>
        {problems.length > 0 && (
          <Box role="alert" sx={{ borderLeft: '3px solid', borderColor: 'error.main', pl: 1.5 }}>
            {problems.map((p) => (
              <Typography key={p} variant="body2">
                {p}
              </Typography>
            ))}
          </Box>
        )}
        <Typography variant="caption" color="text.secondary">
          Designs made with a record keep their own copy; a changed record is offered to them, never forced.{' '}
          {Object.values(sourceWords)
            .map((s) => `${s.mark} ${s.word}`)
            .join('  ')}
        </Typography>
        <Row>
          <TextField
            label="Name"
            value={(draft.name as string | undefined) ?? ''}
            onChange={(e) => {
              set('name', e.target.value);
            }}
            sx={{ width: 330 }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <TextField
            label="Currency of its price"
            value={(draft.currency as string | undefined) ?? ''}
            placeholder="the brief’s"
            onChange={(e) => {
              const code = e.target.value.toUpperCase().trim();
              set('currency', code === '' ? undefined : code);
            }}
            sx={{ width: 160 }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <TextField
            label="Remarks"
            value={(draft.notes as string | undefined) ?? ''}
            onChange={(e) => {
              set('notes', e.target.value);
            }}
            sx={{ width: 330 }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        </Row>
        {kind === 'motor' && (
          <>
            <Row>
              {choice('kind', 'Kind of motor', motorKinds)}
              {choice('model.kind', 'Torque known from', models)}
            </Row>
            <Row>
              {numbers('MotorModel', modelKeys[model ?? ''] ?? [], 'model.')}
              {model === 'points' && (
                <Points
                  label="Torque curve: rpm, N·m and perhaps efficiency; a row each"
                  placeholder={'0 150\n2500 150 0.87\n5000 104 0.91'}
                  columns={[2, 3]}
                  kept={points.map((p) => [p.speed_rpm, p.torque_nm, ...(p.efficiency == null ? [] : [p.efficiency])])}
                  onPoints={(read) => {
                    set('model.points', curvePoints(read));
                  }}
                />
              )}
            </Row>
          </>
        )}
        {kind === 'controller' && (
          <Row>
            {several('motor_kinds', 'Kinds of motor it drives', motorKinds)}
            {several('throttle_signals', 'Throttle signals it reads', throttleSignals)}
          </Row>
        )}
        {kind === 'component' && (
          <Row>
            <TextField
              select
              label="What it is"
              value={(draft.kind as string | undefined) ?? ''}
              onChange={(e) => {
                // Numbers of another kind mean nothing here.
                const { part, name, notes, currency, mass_kg, price } = draft;
                setDraft({ part, name, notes, currency, mass_kg, price, kind: e.target.value });
              }}
              sx={{ width: 230 }}
              slotProps={{ inputLabel: { shrink: true } }}
            >
              {componentKinds.map((k) => (
                <MenuItem key={k.kind} value={k.kind} dense>
                  {k.word}
                </MenuItem>
              ))}
            </TextField>
            {draft.kind === 'throttle' && choice('signal', 'Signal it sends', throttleSignals)}
          </Row>
        )}
        {kind === 'module' && (
          <Row>
            {choice('chemistry', 'Chemistry', chemistries, 160)}
            {choice('case', 'Cells are held by', cellCases, 220, 'hard')}
            <Points
              label="Open-circuit voltage of one cell: charge 0 to 1, volts; a row each"
              placeholder={'0 2.9\n0.1 3.2\n0.9 3.33\n1 3.45'}
              columns={[2]}
              kept={ocv.map((p) => [p.soc, p.volts_v])}
              onPoints={(read) => {
                set(
                  'ocv',
                  read.map(([soc = 0, volts_v = 0]) => ({
                    soc: read.some((p) => (p[0] ?? 0) > 1) ? soc / 100 : soc,
                    volts_v,
                  })),
                );
              }}
            />
          </Row>
        )}
        <Row>{numbers(group, keys)}</Row>
      </Box>
    </Drawer>
  );
}
