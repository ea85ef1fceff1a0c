import { Box, Chip, MenuItem, Select, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { silentQuery } from '../../api/queries';
import type { NeededBy, Network, NetworkMessage } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { figures } from '../../units/units';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { messagesIn } from './network';

const needs: [NeededBy, string][] = [
  ['anti_lock', 'anti-lock'],
  ['steering', 'steering'],
  ['gauges', 'gauges'],
  ['inspection', 'inspection'],
  ['other', 'other'],
];

/** Every message with its period, the bytes that change, what is in it, and what needs it. */
export function NetworkTable({ network, at }: { network: Network; at: string }) {
  const { document, edit } = useWorkbench();
  const messages = network.messages ?? [];
  const stops = useQuery(silentQuery(document)).data ?? [];
  const stopping = (m: NetworkMessage) => stops.find((s) => s.id === m.id);
  const silent = messages.filter((m) => stopping(m));
  const needed = silent.filter((m) => (m.needed_by ?? []).length > 0);
  return (
    <>
      <Typography role="status" sx={{ mb: 1 }}>
        <b>{messagesIn(network)}</b>
        {silent.length > 0 && (
          <>
            , {silent.length} fall silent with the engine’s unit: {silent.map((m) => m.name || `0x${m.id}`).join(', ')}
          </>
        )}
        .{' '}
        {needed.length > 0 && (
          <Box component="span" sx={{ color: 'warning.main' }}>
            ▲ {needed.length} of them {needed.length === 1 ? 'is' : 'are'} needed: something must send{' '}
            {needed.length === 1 ? 'it' : 'them'} in {needed.length === 1 ? 'its' : 'their'} period.
          </Box>
        )}
      </Typography>
      <WideTable aria-label="Messages of the network" sx={{ '& td': { verticalAlign: 'top' } }}>
        <TableHead>
          <TableRow>
            <TableCell>Message</TableCell>
            <TableCell>from</TableCell>
            <TableCell align="right">every</TableCell>
            <TableCell>bytes</TableCell>
            <TableCell>in it</TableCell>
            <TableCell>needed by</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {messages.map((m, i) => (
            <TableRow key={m.id} data-testid={`message-${m.id}`}>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>
                <span className="figures">{m.id}</span> {m.name}
                {stopping(m) && (
                  <Typography variant="caption" component="div" sx={{ color: 'warning.main' }}>
                    ▲ falls silent
                  </Typography>
                )}
              </TableCell>
              <TableCell>
                {m.sender ?? ''}
                {(m.receivers ?? []).length > 0 && (
                  <Typography variant="caption" color="text.secondary" component="div">
                    {stopping(m)
                      ? `missed by ${stopping(m)?.listeners.join(', ') ?? ''}`
                      : `to ${(m.receivers ?? []).join(', ')}`}
                  </Typography>
                )}
              </TableCell>
              <TableCell align="right" className="figures" sx={{ whiteSpace: 'nowrap' }}>
                {m.period_ms == null ? '–' : `${figures(m.period_ms, 3)} ms`}
              </TableCell>
              <TableCell>
                <Bytes message={m} />
              </TableCell>
              <TableCell sx={{ minWidth: 190 }}>
                {(m.signals ?? []).map((s) => (
                  <Typography key={s.name} variant="caption" component="div">
                    {s.name}{' '}
                    <span className="figures">
                      {s.least === s.most ? figures(s.least, 4) : `${figures(s.least, 4)} to ${figures(s.most, 4)}`}
                    </span>{' '}
                    {s.unit}
                  </Typography>
                ))}
              </TableCell>
              <TableCell>
                <Select
                  multiple
                  displayEmpty
                  size="small"
                  variant="standard"
                  value={m.needed_by ?? []}
                  inputProps={{ 'aria-label': `What needs ${m.name || m.id}` }}
                  renderValue={(chosen) =>
                    chosen.length === 0 ? (
                      <Typography variant="caption" color="text.secondary">
                        nothing marked
                      </Typography>
                    ) : (
                      <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
                        {needs
                          .filter(([key]) => chosen.includes(key))
                          .map(([key, word]) => (
                            <Chip key={key} size="small" label={word} />
                          ))}
                      </Box>
                    )
                  }
                  onChange={(e) => {
                    const chosen = e.target.value as NeededBy[];
                    edit(`${at}.messages.${String(i)}.needed_by`, chosen.length > 0 ? chosen : undefined);
                  }}
                  sx={{ minWidth: 120 }}
                >
                  {needs.map(([key, word]) => (
                    <MenuItem key={key} value={key} dense>
                      {word}
                    </MenuItem>
                  ))}
                </Select>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
    </>
  );
}

/** Bytes of a message: filled where they change. */
function Bytes({ message }: { message: NetworkMessage }) {
  const changing = message.changing ?? [];
  const words = `${String(message.length)} bytes, ${changing.length > 0 ? `${changing.join(', ')} change` : 'none changes'}`;
  return (
    <Box role="img" aria-label={words} title={words} sx={{ display: 'flex', flexWrap: 'wrap', gap: '2px', width: 108 }}>
      {Array.from({ length: message.length }, (_, i) => (
        <Box
          key={String(i)}
          sx={{
            width: 11,
            height: 14,
            border: '1px solid',
            borderColor: 'text.secondary',
            bgcolor: changing.includes(i) ? 'text.secondary' : 'transparent',
          }}
        />
      ))}
    </Box>
  );
}
