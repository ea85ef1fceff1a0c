import { Box, InputAdornment, MenuItem, Menu, TextField, ButtonBase } from '@mui/material';
import { useId, useState } from 'react';
import type { Provenance, Source } from '../api/types';
import { type Field, inputText, isNeeded, nearestGauge, parse, rangeText, showText, shownUnit } from '../units/units';
import { useUnits } from '../units/UnitsContext';

interface Props {
  /** Entry of the field catalogue: label, stored unit, bounds. */
  of: Field;
  /** Stored value in the catalogue's unit; undefined when absent. */
  value: number | null | undefined;
  /** Called with a value that keeps the bounds, or undefined when an optional field is cleared. */
  onChange: (value: number | undefined) => void;
  /** What counts when nobody knows, taken when the field is emptied; absent: an optional field is cleared, a needed one keeps its value. */
  unknown?: { value: number; word: string; take: () => void } | undefined;
  /** Replaces the catalogue's label. */
  label?: string;
  /** Currency for money. */
  currency?: string;
  /** Provenance of the value, and how to change it; no mark without. */
  source?: Source | 'unsaid' | undefined;
  onSource?: ((source: Source) => void) | undefined;
  /** Width in CSS pixels. */
  width?: number;
}

export const sourceWords: Record<Provenance, { mark: string; word: string }> = {
  measured: { mark: '●', word: 'measured' },
  datasheet: { mark: '◕', word: 'data sheet' },
  handbook: { mark: '◑', word: 'handbook' },
  seller: { mark: '◔', word: "seller's claim" },
  guess: { mark: '○', word: 'guess' },
};

/** Half-width in percent that a source is trusted to when nothing else is said; a seller's claim lies within this below it. */
export const usualSpread: Record<Provenance, number> = {
  measured: 2,
  datasheet: 5,
  handbook: 12,
  seller: 40,
  guess: 25,
};

const unsaid = { mark: '·', word: 'not said where from' };

/** How far a value is trusted, in percent either way; below it for a seller's claim. */
function Spread({
  said,
  claimable,
  onSource,
}: {
  said: Source;
  claimable: boolean;
  onSource: ((source: Source) => void) | undefined;
}) {
  const [typed, setTyped] = useState(String(said.spread_percent ?? usualSpread[said.from]));
  const claim = said.from === 'seller' && claimable;
  const widest = claim ? 90 : 40;
  const percent = Number(typed.replace(',', '.'));
  const sound = typed.trim() !== '' && percent >= 0 && percent <= widest;
  return (
    <Box sx={{ px: 2, py: 1, borderTop: '1px solid', borderColor: 'divider', width: 210 }}>
      <TextField
        label={claim ? 'May fall short by' : 'Uncertainty ± (80 % of cases)'}
        value={typed}
        error={!sound}
        helperText={sound ? 'four times in five' : `0 to ${String(widest)} % is accepted`}
        onChange={(e) => {
          setTyped(e.target.value);
          const next = Number(e.target.value.replace(',', '.'));
          if (e.target.value.trim() !== '' && next >= 0 && next <= widest) {
            onSource?.({ from: said.from, spread_percent: next });
          }
        }}
        onKeyDown={(e) => {
          // The menu would take letters for a jump to its items.
          e.stopPropagation();
        }}
        slotProps={{
          input: { className: 'figures', endAdornment: <InputAdornment position="end">%</InputAdornment> },
          inputLabel: { shrink: true },
        }}
      />
    </Box>
  );
}

/**
 * A number with its unit. What is typed and what it means are kept apart: any unit of the dimension is understood, the
 * meaning is stored as soon as it is within bounds, and nonsense stays visible with words beside it, never becoming zero.
 */
export function QuantityField({
  of,
  value,
  onChange,
  unknown,
  label,
  currency,
  source: given,
  onSource,
  width = 200,
}: Props) {
  // A value that is not there comes from nowhere.
  const source = value == null ? undefined : given;
  const said = source === undefined || source === 'unsaid' ? undefined : source;
  const origin = said === undefined ? unsaid : sourceWords[said.from];
  const system = useUnits();
  const id = useId();
  const shown = of.unit === 'money' ? (currency ?? '') : shownUnit(of.unit, system, of.dimension);
  const [typed, setTyped] = useState<string | null>(null);
  // What counted before anything was typed: nonsense and half-typed figures leave that, not the last figure on the way.
  const [before, setBefore] = useState<number | undefined>(undefined);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  // What was understood stays in sight after leaving: a line that went then would move what is being clicked.
  const [understood, setUnderstood] = useState<number | null>(null);
  const stored = value == null ? '' : inputText(value, of, system);
  const text = typed ?? stored;
  const parsed = typed === null || typed.trim() === '' ? null : parse(typed, of, system);
  const emptied = typed?.trim() === '';
  const missing = emptied && of.required && unknown === undefined;
  const error = missing
    ? `needed; ${stored === '' ? '' : `${stored} ${shown} still counts; `}${rangeText(of, system)} accepted`
    : parsed && 'error' in parsed
      ? parsed.error
      : undefined;
  // Said while it is being emptied too: words that come on leaving would move what is about to be clicked.
  const absent = value == null && (typed === null || emptied) && !of.required;
  const converted = parsed && 'value' in parsed && typed !== null && /[a-z"'%°²/:]/i.test(typed);
  const name = label ?? of.label;

  return (
    <Box sx={{ width, position: 'relative' }}>
      <TextField
        id={id}
        fullWidth
        label={name}
        value={text}
        error={error !== undefined}
        helperText={
          error ??
          (emptied && unknown
            ? `not known: ${showText(unknown.value, of.unit, system, 4, of.dimension)} counts, ${unknown.word}`
            : converted || (understood !== null && understood === value)
              ? `= ${showText(converted ? parsed.value : (understood ?? 0), of.unit, system, 4, of.dimension)}`
              : of.unit === 'mm²' && value != null
                ? nearestGauge(value)
                : absent
                  ? of.default
                  : undefined)
        }
        onChange={(e) => {
          const next = e.target.value;
          const counted = typed === null ? (value ?? undefined) : before;
          if (typed === null) setBefore(counted);
          setTyped(next);
          setUnderstood(null);
          const back = () => {
            if ((value ?? undefined) !== counted) onChange(counted);
          };
          if (next.trim() === '') {
            if (unknown) unknown.take();
            else if (of.required) back();
            else onChange(undefined);
            return;
          }
          const result = parse(next, of, system);
          if ('value' in result) onChange(result.value);
          else back();
        }}
        onBlur={() => {
          // Nonsense stays where it was typed, so that nothing a person wrote disappears.
          if (error !== undefined) return;
          setUnderstood(converted ? parsed.value : null);
          setTyped(null);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && error === undefined) setTyped(null);
          if (e.key === 'Escape') setTyped(null);
        }}
        slotProps={{
          input: {
            className: 'figures',
            endAdornment:
              shown === '' && source === undefined ? undefined : (
                <InputAdornment position="end">
                  <Box component="span" sx={{ fontSize: '0.75rem', color: 'text.secondary' }}>
                    {shown}
                  </Box>
                  {source !== undefined && (
                    <ButtonBase
                      aria-label={`${name}: ${origin.word}; change where it comes from`}
                      title={origin.word}
                      onClick={(e) => {
                        setMenu(e.currentTarget);
                      }}
                      sx={{
                        ml: 0.75,
                        color: said?.from === 'guess' || said?.from === 'seller' ? 'warning.main' : 'text.secondary',
                        minWidth: 24,
                        minHeight: 24,
                      }}
                    >
                      {origin.mark}
                    </ButtonBase>
                  )}
                </InputAdornment>
              ),
          },
          // What must be given and is not there yet is marked.
          inputLabel: { shrink: true, required: isNeeded(of) && value == null },
          htmlInput: { inputMode: 'text', autoComplete: 'off', 'aria-required': isNeeded(of) && value == null },
        }}
      />
      {source !== undefined && menu !== null && (
        <Menu
          open
          anchorEl={menu}
          onClose={() => {
            setMenu(null);
          }}
        >
          {(Object.keys(sourceWords) as Provenance[]).map((key) => (
            <MenuItem
              key={key}
              dense
              selected={key === said?.from}
              onClick={() => {
                onSource?.({ from: key });
                setMenu(null);
              }}
            >
              {sourceWords[key].mark}&ensp;{sourceWords[key].word}
            </MenuItem>
          ))}
          {said && <Spread said={said} claimable={of.claimable} onSource={onSource} />}
        </Menu>
      )}
    </Box>
  );
}
