import { FormControlLabel, Switch } from '@mui/material';

/** A switch with its words beside it. */
export function Toggle({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
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
}
