import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import type { Outing, Stay, Week } from '../../api/types';
import { ClockField } from '../../fields/ClockField';
import { DaysField } from '../../fields/DaysField';
import { Row } from '../../fields/Fields';
import { QuantityField } from '../../fields/QuantityField';
import { RemoveButton } from '../../fields/RemoveButton';
import { field } from '../../units/units';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { newOuting, newStay } from './plan';
import { useTripNames } from './useTripNames';

function Pick({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => void;
}) {
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => {
        onChange(e.target.value);
      }}
      sx={{ width: 200 }}
      slotProps={{ inputLabel: { shrink: true } }}
    >
      {options.map(([id, word]) => (
        <MenuItem key={id} value={id} dense>
          {word}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Trips on days of the week and hours at sockets. What is assumed is shown, and becomes the person's own with the first change. */
export function WeekPlan({ assumed }: { assumed: Week | undefined }) {
  const { draft, edit } = useWorkbench();
  const trips = useTripNames();
  const sockets = (draft.brief.sockets ?? []).map((s): [string, string] => [s.id, s.name]);
  const own = draft.brief.week ?? {};
  const empty = (own.outings ?? []).length + (own.stays ?? []).length === 0;
  const week = empty && assumed ? assumed : own;
  const [outings, stays] = [week.outings ?? [], week.stays ?? []];
  const put = (next: Week) => {
    edit('brief.week', next);
  };
  const outing = (o: Outing) => {
    put({ outings: outings.map((x) => (x.id === o.id ? o : x)), stays });
  };
  const stay = (s: Stay) => {
    put({ outings, stays: stays.map((x) => (x.id === s.id ? s : x)) });
  };
  const [trip, socket] = [trips[0]?.[0], sockets[0]?.[0]];
  return (
    <Box sx={{ mt: 2 }}>
      {empty && assumed && (
        <Typography color="text.secondary" sx={{ mb: 1 }}>
          Nothing has been said of the week; this one is assumed until it is changed.
        </Typography>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr', rowGap: 2 }}>
        <Box>
          <Typography variant="h3">Trips</Typography>
          {outings.map((o) => (
            <Box key={o.id} sx={{ py: 1 }}>
              <Row>
                <Pick
                  label="Trip"
                  value={o.trip}
                  options={trips}
                  onChange={(next) => {
                    outing({ ...o, trip: next });
                  }}
                />
                <ClockField
                  label="Leaves at"
                  value={o.departure_h}
                  onChange={(departure_h) => {
                    outing({ ...o, departure_h });
                  }}
                />
                <DaysField
                  label="Days of this trip"
                  value={o.days}
                  onChange={(days) => {
                    outing({ ...o, days });
                  }}
                />
                <RemoveButton
                  what="this trip of the week"
                  onClick={() => {
                    put({ outings: outings.filter((x) => x.id !== o.id), stays });
                  }}
                />
              </Row>
            </Box>
          ))}
          <Button
            disabled={trip === undefined}
            onClick={() => {
              if (trip !== undefined) put({ outings: [...outings, newOuting(week, trip)], stays });
            }}
          >
            Add a trip to the week
          </Button>
        </Box>
        <Box>
          <Typography variant="h3">Plugged in</Typography>
          {stays.map((s) => (
            <Box key={s.id} sx={{ py: 1 }}>
              <Row>
                <Pick
                  label="Socket"
                  value={s.socket}
                  options={sockets}
                  onChange={(next) => {
                    stay({ ...s, socket: next });
                  }}
                />
                <ClockField
                  label="from"
                  value={s.from_h}
                  onChange={(from_h) => {
                    stay({ ...s, from_h });
                  }}
                />
                <QuantityField
                  of={field('Stay', 'hours_h')}
                  value={s.hours_h}
                  width={80}
                  onChange={(hours_h) => {
                    if (hours_h !== undefined) stay({ ...s, hours_h });
                  }}
                />
                <DaysField
                  label="Days plugged in"
                  value={s.days}
                  onChange={(days) => {
                    stay({ ...s, days });
                  }}
                />
                <RemoveButton
                  what="these hours at a socket"
                  onClick={() => {
                    put({ outings, stays: stays.filter((x) => x.id !== s.id) });
                  }}
                />
              </Row>
            </Box>
          ))}
          <Button
            disabled={socket === undefined}
            onClick={() => {
              if (socket !== undefined) put({ outings, stays: [...stays, newStay(week, socket)] });
            }}
          >
            Add hours at a socket
          </Button>
        </Box>
      </Box>
    </Box>
  );
}
