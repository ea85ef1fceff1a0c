import { Box, Button, TableCell, TableRow, Typography } from '@mui/material';
import { api } from '../../api/client';
import type { PartView, UnitSystem, UnreadablePartView } from '../../api/types';
import { copyOf } from '../../parts/records';
import { summary } from '../../parts/summary';

/** A record under change: a new one, or an own one by its id and version. */
export interface Editing {
  start: unknown;
  id?: string;
  version?: number;
}

const price = (p: PartView) =>
  (p.record.price ?? 0) > 0
    ? `${(p.record.price ?? 0).toLocaleString('en').replaceAll(',', ' ')} ${p.record.currency ?? ''}`
    : '–';

/** Does something with the library and says `what` did not happen where it fails. */
export type Act = (
  what: string,
  run: () => Promise<{ data?: unknown; error?: unknown; response: Response }>,
) => Promise<void>;

interface Handlers {
  onEdit: (editing: Editing) => void;
  act: Act;
}

/** Parts of one's own that today's bounds do not take: to be mended or removed. */
export function UnreadableParts({ unreadable, onEdit, act }: Handlers & { unreadable: UnreadablePartView[] }) {
  return (
    <Box role="alert" sx={{ borderLeft: '3px solid', borderColor: 'error.main', pl: 1.5, my: 1.5 }}>
      <Typography variant="body2" sx={{ fontWeight: 650 }}>
        {unreadable.length === 1 ? 'One part of your own' : `${String(unreadable.length)} parts of your own`} cannot be
        used until mended; nothing of it is lost.
      </Typography>
      {unreadable.map((u) => (
        <Box key={u.id} sx={{ display: 'flex', gap: 1, alignItems: 'baseline', flexWrap: 'wrap' }}>
          <Typography variant="body2">{u.name}</Typography>
          <Typography variant="caption" color="text.secondary">
            {u.problems.map((x) => x.message).join('; ')}
          </Typography>
          <Button
            aria-label={`Mend ${u.name}`}
            sx={{ minWidth: 0 }}
            onClick={() => {
              onEdit({ start: { ...u.record, part: u.kind, name: u.name }, id: u.id, version: u.version });
            }}
          >
            mend
          </Button>
          <Button
            aria-label={`Remove ${u.name}`}
            color="error"
            sx={{ minWidth: 0 }}
            onClick={() =>
              void act(`${u.name} was not removed.`, () =>
                api.DELETE('/api/v1/library/{id}', {
                  params: { path: { id: u.id }, query: { version: u.version } },
                }),
              )
            }
          >
            remove
          </Button>
        </Box>
      ))}
    </Box>
  );
}

/** One part with what is odd about it and what can be done with it. */
export function PartRow({ part: p, system, onEdit, act }: Handlers & { part: PartView; system: UnitSystem }) {
  return (
    <TableRow sx={{ opacity: p.retired ? 0.6 : 1, '& td': { verticalAlign: 'top' } }}>
      <TableCell>
        <Typography variant="body2" sx={{ fontWeight: 650 }}>
          {p.record.name}{' '}
          <Typography component="span" variant="caption" color="text.secondary">
            {p.id == null ? '' : p.retired ? 'own, retired' : 'own'}
          </Typography>
        </Typography>
        <Typography variant="caption" color="text.secondary" component="div">
          {summary(p.record, system)}
        </Typography>
        {p.implausible.map((d) => (
          <Typography key={d.key + d.message} variant="caption" component="div" sx={{ color: 'warning.main' }}>
            ▲ {d.message}
          </Typography>
        ))}
        {p.look_alikes.length > 0 && (
          <Typography variant="caption" component="div" sx={{ color: 'warning.main' }}>
            ▲ seems to be the same as {p.look_alikes.join(', ')}
          </Typography>
        )}
      </TableCell>
      <TableCell align="right" className="figures" sx={{ whiteSpace: 'nowrap' }}>
        {price(p)}
      </TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap', width: '1%' }}>
        <Button
          aria-label={`Copy ${p.record.name}`}
          onClick={() => {
            onEdit({ start: copyOf(p.record) });
          }}
          sx={{ minWidth: 0 }}
        >
          copy
        </Button>
        {p.id != null && p.version != null && (
          <>
            <Button
              aria-label={`Change ${p.record.name}`}
              onClick={() => {
                onEdit({ start: p.record, id: p.id ?? '', version: p.version ?? 0 });
              }}
              sx={{ minWidth: 0 }}
            >
              change
            </Button>
            <Button
              aria-label={`${p.retired ? 'Take up' : 'Retire'} ${p.record.name}`}
              onClick={() =>
                void act(`${p.record.name} was not changed.`, () =>
                  api.POST('/api/v1/library/{id}/retired', {
                    params: { path: { id: p.id ?? '' } },
                    body: { version: p.version ?? 0, retired: !p.retired },
                  }),
                )
              }
              sx={{ minWidth: 0 }}
            >
              {p.retired ? 'Restore' : 'Retire'}
            </Button>
            {p.retired && (
              <Button
                aria-label={`Remove ${p.record.name}`}
                color="error"
                onClick={() =>
                  void act(`${p.record.name} was not removed.`, () =>
                    api.DELETE('/api/v1/library/{id}', {
                      params: { path: { id: p.id ?? '' }, query: { version: p.version ?? 0 } },
                    }),
                  )
                }
                sx={{ minWidth: 0 }}
              >
                remove
              </Button>
            )}
          </>
        )}
      </TableCell>
    </TableRow>
  );
}
