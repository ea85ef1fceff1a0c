import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, asText, reach, refusalLines, unwrap } from '../../api/client';
import type { Track } from '../../api/types';
import { FileButton } from '../../fields/FileButton';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { freshId } from '../../workbench/ids';
import { Said } from '../../units/Said';

/** A recorded track becomes a trip; what looked wrong in it is shown before it is taken. */
export function TrackImport() {
  const { draft, edit, say } = useWorkbench();
  const system = useUnits();
  const [read, setRead] = useState<{ track: Track; name: string } | null>(null);
  const send = useMutation({
    mutationFn: ({ text }: { text: string; name: string }) =>
      reach(async () =>
        unwrap(
          await api.POST(
            '/api/v1/tracks',
            asText(text, text.trimStart().startsWith('<') ? 'application/gpx+xml' : 'text/csv'),
          ),
        ),
      ),
    onSuccess: (track, { name }) => {
      setRead({ track, name: track.name || name.replace(/\.[a-z]+$/i, '') });
    },
  });
  const refused = send.error;
  const close = () => {
    setRead(null);
    send.reset();
  };
  const flags = read?.track.flags ?? [];
  return (
    <>
      <FileButton
        label="Import a track (GPX, CSV)"
        accept=".gpx,.csv,.txt"
        onRefused={say}
        onText={(text, name) => {
          send.mutate({ text, name });
        }}
      />
      <Dialog open={read !== null || refused !== null} onClose={close} maxWidth="sm" fullWidth>
        <DialogTitle>{read ? `Track: ${read.name}` : 'The track was not taken'}</DialogTitle>
        <DialogContent>
          {refused && (
            <Box role="alert">
              {refusalLines(refused)
                .slice(0, 8)
                .map((m) => (
                  <Typography key={m} color="error" sx={{ mb: 0.5 }}>
                    {m}
                  </Typography>
                ))}
            </Box>
          )}
          {read && (
            <>
              <Typography sx={{ mb: 1 }}>
                {showText(read.track.distance_km, 'km', system)} in {figures(read.track.duration_s / 60)} min, climbing{' '}
                {showText(read.track.climb_m, 'm', system, 3, 'height')} in all.
              </Typography>
              {flags.length === 0 ? (
                <Typography color="text.secondary">Nothing in it looked wrong.</Typography>
              ) : (
                <>
                  <Typography variant="h3" component="h3">
                    {flags.length} to look at
                  </Typography>
                  {flags.slice(0, 12).map((f) => (
                    <Typography key={f.at} variant="body2" color="warning.main">
                      {f.at}: <Said of={f.message} />
                    </Typography>
                  ))}
                  {flags.length > 12 && <Typography variant="body2">and {flags.length - 12} more</Typography>}
                </>
              )}
            </>
          )}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={close}>
            {read ? 'Leave it' : 'Close'}
          </Button>
          {read && (
            <Button
              variant="contained"
              onClick={() => {
                const trips = draft.brief.trips ?? [];
                const id = freshId(
                  'trip',
                  trips.map((t) => t.id),
                );
                edit('brief.trips', [...trips, { id, name: read.name.slice(0, 120), path: read.track.path }]);
                close();
              }}
            >
              Take it as a trip
            </Button>
          )}
        </DialogActions>
      </Dialog>
    </>
  );
}
