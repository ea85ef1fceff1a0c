import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { memo, useState } from 'react';
import type { Clash, Json } from './merge';

/** A value whole, as lines a person can read. */
const whole = (value: Json | undefined) => {
  if (value === undefined) return 'nothing';
  if (typeof value !== 'object' || value === null) return String(value);
  return JSON.stringify(value, null, 1)
    .replaceAll(/["{}[\],]/g, '')
    .replaceAll(/\n\s*\n/g, '\n')
    .trim();
};

/** Words for a place: without ids of rows, which nobody has seen. */
const words = (clash: Clash) =>
  clash.place
    .filter((key, i) => !(i === 0 && key === 'designs') && !(i === 1 && clash.place[0] === 'designs'))
    .map((key) => key.replace(/^#/, '').replaceAll('_', ' ').replaceAll('.', ' '))
    .join(' · ');

/** Two windows changed the same place: both values are shown and one is chosen for each. */
export const ClashDialog = memo(function ClashDialog({
  clashes,
  onChoose,
}: {
  clashes: Clash[];
  onChoose: (theirs: ReadonlySet<string>) => void;
}) {
  const [theirs, setTheirs] = useState<string[]>([]);
  return (
    <Dialog open={clashes.length > 0} maxWidth="sm" fullWidth aria-labelledby="clash-title">
      <DialogTitle id="clash-title">Changed in another window too</DialogTitle>
      <DialogContent>
        <Typography gutterBottom>Nothing is lost. Choose which value stands; undo brings the other back.</Typography>
        {clashes.map((clash) => (
          <section key={clash.path} style={{ marginBlock: 12 }}>
            <Typography variant="h3" component="h3">
              {words(clash)}
            </Typography>
            <ToggleButtonGroup
              exclusive
              size="small"
              value={theirs.includes(clash.path) ? 'theirs' : 'mine'}
              onChange={(_, choice: string | null) => {
                setTheirs((t) => (choice === 'theirs' ? [...t, clash.path] : t.filter((p) => p !== clash.path)));
              }}
              aria-label={words(clash)}
            >
              {(['mine', 'theirs'] as const).map((side) => (
                <ToggleButton
                  key={side}
                  value={side}
                  sx={{ display: 'block', textAlign: 'left', textTransform: 'none' }}
                >
                  <b>{side}</b>
                  <Box component="pre" sx={{ m: 0, maxHeight: 200, overflow: 'auto', whiteSpace: 'pre-wrap' }}>
                    {whole(clash[side])}
                  </Box>
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
          </section>
        ))}
      </DialogContent>
      <DialogActions>
        <Button
          variant="contained"
          onClick={() => {
            onChoose(new Set(theirs));
            setTheirs([]);
          }}
        >
          Keep these
        </Button>
      </DialogActions>
    </Dialog>
  );
});
