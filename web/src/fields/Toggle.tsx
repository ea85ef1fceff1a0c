import { FormControlLabel, Switch } from '@mui/material';
import { memo } from 'react';

/** A switch with its words beside it. */
export const Toggle = memo(function Toggle({
  label,
  on,
  onChange,
}: {
  label: string;
  on: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <FormControlLabel
      control={
        <Switch
          size="small"
          checked={on}
          onChange={(e) => {
            onChange(e.target.checked);
          }}
        />
      }
      label={label}
    />
  );
});
