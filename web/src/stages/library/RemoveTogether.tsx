import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { useState } from 'react';
import { api } from '../../api/client';
import type { PartView } from '../../api/types';
import type { Act } from './LibraryParts';

/** Removes the own parts listed, all or none, once that has been confirmed. */
export function RemoveTogether({
  parts,
  narrowed,
  one,
  act,
}: {
  parts: PartView[];
  /** The list is what a search left. */
  narrowed: boolean;
  one: string;
  act: Act;
}) {
  const [asking, setAsking] = useState(false);
  const own = parts.flatMap((p) => (p.id != null && p.version != null ? [{ id: p.id, version: p.version }] : []));
  const what = `${String(own.length)} ${one}s`;
  return (
    <>
      <Button
        color="error"
        onClick={() => {
          setAsking(true);
        }}
      >
        Remove {narrowed ? 'what is listed' : 'all of these'} …
      </Button>
      <Dialog
        open={asking}
        onClose={() => {
          setAsking(false);
        }}
        aria-labelledby="remove-together"
      >
        <DialogTitle id="remove-together">Remove {what} of your own?</DialogTitle>
        <DialogContent>
          <Typography>
            Conversions that use one keep their copy of it. Save them first as a file (own as CSV) to have them back.
          </Typography>
        </DialogContent>
        <DialogActions>
          <Button
            autoFocus
            onClick={() => {
              setAsking(false);
            }}
          >
            Keep them
          </Button>
          <Button
            color="error"
            onClick={() => {
              setAsking(false);
              void act(`The ${what} were not removed.`, () =>
                api.POST('/api/v1/library/removal', { body: { parts: own } }),
              );
            }}
          >
            Remove {what}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
