import { TextField } from '@mui/material';
import { useState } from 'react';
import { clock, hourOf } from '../units/week';

/** An hour of the day by the clock. A clock half typed changes nothing. */
export function ClockField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (hour: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <TextField
      type="time"
      label={label}
      value={typed ?? clock(value)}
      onChange={(e) => {
        const hour = hourOf(e.target.value);
        setTyped(hour === undefined ? e.target.value : null);
        if (hour !== undefined) onChange(hour);
      }}
      onBlur={() => {
        setTyped(null);
      }}
      sx={{ width: 110 }}
      slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
    />
  );
}
