import { Box, Button, ListSubheader, Menu, MenuItem, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import type { Socket } from '../../api/types';
import catalogue from '../../units/catalogue.json' with { type: 'json' };
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { freshId } from '../../workbench/ids';
import { usesOfSocket } from './measures';

const outlets = catalogue.outlets as unknown as { region: string; source: string; socket: Socket }[];
const connectors = catalogue.connectors as unknown as { id: string; name: string; kind: string }[];

const regions: Record<string, string> = {
  north_america: 'North America',
  europe: 'European mainland',
  united_kingdom: 'United Kingdom',
  australia: 'Australia and New Zealand',
  stations: 'Fast charging, direct current',
};

const plain: Omit<Socket, 'id'> = {
  name: 'Socket',
  kind: 'ac',
  voltage_v: 230,
  current_a: 16,
  phases: 1,
  continuous_share: 0.8,
};

/** Adds one of the outlets as they are found, or an empty one. */
function AddSocket() {
  const { draft, edit } = useWorkbench();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const sockets = draft.brief.sockets ?? [];
  const add = (socket: Omit<Socket, 'id'>) => {
    const id = freshId(
      'socket',
      sockets.map((s) => s.id),
    );
    edit('brief.sockets', [...sockets, { ...socket, id }]);
    setMenu(null);
  };
  return (
    <>
      <Button
        aria-haspopup="menu"
        aria-expanded={menu !== null}
        onClick={(e) => {
          setMenu(e.currentTarget);
        }}
      >
        Add a socket
      </Button>
      <Menu
        open={menu !== null}
        anchorEl={menu}
        onClose={() => {
          setMenu(null);
        }}
        slotProps={{ list: { dense: true } }}
      >
        <MenuItem
          onClick={() => {
            add(plain);
          }}
        >
          Another one, to be filled in
        </MenuItem>
        {Object.entries(regions).flatMap(([region, word]) => [
          <ListSubheader key={region} sx={{ lineHeight: 2.2 }}>
            {word}
          </ListSubheader>,
          ...outlets
            .filter((o) => o.region === region)
            .map((o) => (
              <MenuItem
                key={region + o.socket.name}
                onClick={() => {
                  add(o.socket);
                }}
              >
                {o.socket.name}
                <Typography component="span" variant="caption" color="text.secondary" sx={{ ml: 2 }}>
                  {o.source}
                </Typography>
              </MenuItem>
            )),
        ])}
      </Menu>
    </>
  );
}

/** What stands between wall and vehicle: connector, pilot and cable, or the station's window. */
function Connection({ socket, at }: { socket: Socket; at: string }) {
  const { edit } = useWorkbench();
  const fit = connectors.filter((c) => c.kind === socket.kind);
  return (
    <>
      <TextField
        select
        label="Connector"
        value={socket.connector ?? ''}
        onChange={(e) => {
          edit(`${at}.connector`, e.target.value === '' ? undefined : e.target.value);
        }}
        sx={{ width: 170 }}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        <MenuItem value="" dense>
          not said
        </MenuItem>
        {fit.map((c) => (
          <MenuItem key={c.id} value={c.id} dense>
            {c.name}
          </MenuItem>
        ))}
      </TextField>
      <Numbers
        group="Socket"
        at={at}
        keys={socket.kind === 'dc' ? ['min_voltage_v'] : ['pilot_duty_percent', 'cable_current_a']}
        width={150}
      />
    </>
  );
}

/** Places to charge. */
export function Sockets() {
  const { draft, edit, editAll } = useWorkbench();
  const sockets = draft.brief.sockets ?? [];
  return (
    <Section
      title="Sockets"
      note="Only a share of a circuit's rating may be drawn for hours; local code decides."
      action={<AddSocket />}
    >
      {sockets.length === 0 && (
        <Typography color="text.secondary">
          Say where it is charged; without a socket no charging time can be told.
        </Typography>
      )}
      {sockets.map((s, i) => {
        const at = `brief.sockets.${String(i)}`;
        return (
          <Box key={s.id} sx={{ py: 1 }}>
            <Row>
              <Words at={`${at}.name`} label="Name" width={180} />
              <Choice
                at={`${at}.kind`}
                label="Kind"
                fallback="ac"
                options={[
                  ['ac', 'mains'],
                  ['dc', 'fast, direct current'],
                ]}
                onChange={(kind) => {
                  // A connector of the other kind would be refused.
                  editAll([
                    [`${at}.kind`, kind],
                    [`${at}.connector`, undefined],
                  ]);
                }}
              />
              <Numbers
                group="Socket"
                at={at}
                keys={
                  s.kind === 'dc'
                    ? ['voltage_v', 'current_a', 'power_w']
                    : ['voltage_v', 'current_a', 'phases', 'continuous_share']
                }
                width={120}
              />
              <Connection socket={s} at={at} />
              <RemoveButton
                what={s.name}
                kept={usesOfSocket(draft.brief, s.id)}
                onClick={() => {
                  edit(
                    'brief.sockets',
                    sockets.filter((x) => x.id !== s.id),
                  );
                }}
              />
            </Row>
          </Box>
        );
      })}
    </Section>
  );
}
