import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import type { Clash, Json } from './merge';

const brief = (value: Json | undefined) => {
  if (value === undefined) return 'nothing';
  if (typeof value === 'object' && value !== null && !Array.isArray(value) && typeof value['name'] === 'string')
    return value['name'];
  const text = JSON.stringify(value);
  return text.length > 60 ? `${text.slice(0, 60)} …` : text;
};

/** Two windows changed the same place: both values are shown and one is chosen for each. */
export function ClashDialog({ clashes, onChoose }: { clashes: Clash[]; onChoose: (theirs: Clash[]) => void }) {
  const [theirs, setTheirs] = useState<string[]>([]);
  return (
    <Dialog open={clashes.length > 0} maxWidth="sm" fullWidth aria-labelledby="clash-title">
      <DialogTitle id="clash-title">Changed in another window too</DialogTitle>
      <DialogContent>
        <Typography gutterBottom>Nothing is lost. Choose which value stands; undo brings the other back.</Typography>
        {clashes.map((clash) => (
          <section key={clash.path} style={{ marginBlock: 12 }}>
            <Typography variant="h3" component="h3">
              {clash.path.replace(/^designs\.[^.]+\./, '').replaceAll(/[._]/g, ' ')}
            </Typography>
            <ToggleButtonGroup
              exclusive
              size="small"
              value={theirs.includes(clash.path) ? 'theirs' : 'mine'}
              onChange={(_, choice: string | null) => {
                setTheirs((t) => (choice === 'theirs' ? [...t, clash.path] : t.filter((p) => p !== clash.path)));
              }}
              aria-label={clash.path}
            >
              <ToggleButton value="mine">mine: {brief(clash.mine)}</ToggleButton>
              <ToggleButton value="theirs">theirs: {brief(clash.theirs)}</ToggleButton>
            </ToggleButtonGroup>
          </section>
        ))}
      </DialogContent>
      <DialogActions>
        <Button
          variant="contained"
          onClick={() => {
            onChoose(clashes.filter((c) => theirs.includes(c.path)));
            setTheirs([]);
          }}
        >
          Keep these
        </Button>
      </DialogActions>
    </Dialog>
  );
}
