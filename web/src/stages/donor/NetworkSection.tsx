import { Box, Button, FormControlLabel, Switch, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, reach, refusalLines, refusals, unwrap } from '../../api/client';
import type { Network } from '../../api/types';
import { Section } from '../../fields/Fields';
import { FileButton } from '../../fields/FileButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { messagesIn } from './network';
import { NetworkTable } from './NetworkTable';

const at = 'donor.evidence.network';

/** What was read so far; the descriptions and the second log are held against the first. */
interface Texts {
  log?: string;
  without?: string;
  dbc?: string;
}

/** The vehicle's own network: which messages there are, what is in them, what falls silent and who needs it. */
export function NetworkSection() {
  const { draft, edit, say } = useWorkbench();
  const network = draft.donor.evidence?.network;
  const [texts, setTexts] = useState<Texts>({});
  const read = useMutation({
    mutationFn: ({ log, without, dbc, leaveOut }: Texts & { leaveOut: boolean }) =>
      reach(async () =>
        unwrap(
          await api.POST('/api/v1/network', {
            body: {
              log: log ?? '',
              ...(without === undefined ? {} : { without }),
              ...(dbc === undefined ? {} : { dbc }),
              ...(network ? { known: network as Network } : {}),
              leave_out: leaveOut,
            },
          }),
        ),
      ),
    onSuccess: ({ network: told, left_out }) => {
      edit(at, told);
      const out = left_out > 0 ? ` ${String(left_out)} lines were left out.` : '';
      say(`${messagesIn(told)} in ${told.seconds?.toFixed(0) ?? '0'} s.${out}`);
    },
  });
  const take = (more: Texts, leaveOut = false) => {
    const next = { ...texts, ...more };
    setTexts(next);
    if (next.log !== undefined) read.mutate({ ...next, leaveOut });
    else say('Kept for the log: read that next.');
  };
  const simulate = useMutation({
    mutationFn: () =>
      reach(async () => {
        const ask = async (without: boolean) =>
          unwrap(
            await api.GET('/api/v1/network/simulated', {
              params: { query: { seconds: 10, without_engine: without } },
            }),
          );
        const [whole, less] = [await ask(false), await ask(true)];
        return { log: whole.log, without: less.log, dbc: whole.dbc };
      }),
    onSuccess: (heard) => {
      take(heard);
    },
    onError: (error) => {
      say(error.message);
    },
  });
  const units = [...new Set((network?.messages ?? []).flatMap((m) => [m.sender ?? '', ...(m.receivers ?? [])]))].filter(
    (u) => u !== '',
  );
  const leaving = network?.leaving ?? [];
  return (
    <Section
      title="Its own network"
      note="logged before anything comes out: what must keep working, and what falls silent with the engine"
      action={
        <Box>
          <FileButton
            label="Log"
            accept=".log,.txt,.asc"
            onRefused={say}
            onText={(log) => {
              take({ log });
            }}
          />
          <FileButton
            label="Log without the engine’s unit"
            accept=".log,.txt,.asc"
            onRefused={say}
            onText={(without) => {
              take({ without });
            }}
          />
          <FileButton
            label="Names (DBC)"
            accept=".dbc"
            onRefused={say}
            onText={(dbc) => {
              take({ dbc });
            }}
          />
          {network && (
            <Button
              onClick={() => {
                edit(at, undefined);
              }}
            >
              Forget it
            </Button>
          )}
        </Box>
      }
    >
      {read.isError && (
        <Box role="alert" sx={{ mb: 1 }}>
          {refusalLines(read.error).map((line) => (
            <Typography key={line} sx={{ color: 'error.main' }}>
              {line}
            </Typography>
          ))}
          {refusals(read.error).some((p) => /^(log|without), line/.test(p.path)) && (
            <Button
              variant="outlined"
              onClick={() => {
                take({}, true);
              }}
            >
              Leave such lines out
            </Button>
          )}
        </Box>
      )}
      {!network && (
        <Typography color="text.secondary">
          A vehicle whose units talk to each other (most since about 2000) misses the engine’s when it is gone: lamps,
          steering assistance, anti-lock. A log as candump writes it tells what.{' '}
          <Button
            disabled={simulate.isPending || read.isPending}
            onClick={() => {
              simulate.mutate();
            }}
          >
            Listen to the simulated network
          </Button>
        </Typography>
      )}
      {network && units.length > 0 && (
        <Box role="group" aria-label="Units that leave" sx={{ mb: 1 }}>
          <Typography component="span" color="text.secondary" sx={{ mr: 2 }}>
            Leave with the engine:
          </Typography>
          {units.map((u) => (
            <FormControlLabel
              key={u}
              control={
                <Switch
                  size="small"
                  checked={leaving.includes(u)}
                  onChange={(e) => {
                    edit(`${at}.leaving`, e.target.checked ? [...leaving, u] : leaving.filter((l) => l !== u));
                  }}
                />
              }
              label={u}
            />
          ))}
        </Box>
      )}
      {network && <NetworkTable network={network} at={at} />}
    </Section>
  );
}
