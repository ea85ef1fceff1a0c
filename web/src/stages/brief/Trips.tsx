import { Box, Button, MenuItem, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material';
import { WideTable } from '../../common/WideTable';
import type { Brief, Trip } from '../../api/types';
import { Choice, Numbers, Row, Section, Words } from '../../fields/Fields';
import { get } from '../../workbench/merge';
import { HeldPace } from './HeldPace';
import { MeasuredDrives } from './MeasuredDrives';
import { TrackImport } from './TrackImport';
import { TripStudyView } from './TripStudyView';
import { manners } from './measures';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { newTrip, schedules, usesOfTrip } from './measures';
import { RemoveButton } from '../../fields/RemoveButton';

type Schedule = NonNullable<Brief['schedules']>[number];
type Segment = Extract<Trip['path'], { segments: unknown }>['segments'][number];

function Segments({ trip, index }: { trip: Trip; index: number }) {
  const { edit } = useWorkbench();
  if (!('segments' in trip.path)) {
    return (
      <Typography variant="caption" color="text.secondary" component="p">
        {'schedule' in trip.path
          ? schedules[trip.path.schedule]
          : `a trace of ${String(trip.path.trace.length)} points`}
      </Typography>
    );
  }
  const segments = trip.path.segments;
  const at = `brief.trips.${String(index)}.path.segments`;
  const fresh: Segment = segments.at(-1) ?? { distance_km: 5, speed_kmh: 50 };
  return (
    <>
      {segments.map((_, i) => (
        // A stretch has no identity of its own; its place is its key.
        <Box
          key={i}
          sx={{
            display: 'flex',
            alignItems: 'flex-start',
            gap: 2,
            py: 0.5,
            pl: 2,
            borderLeft: '1px solid',
            borderColor: 'divider',
            flexWrap: 'wrap',
          }}
        >
          <Typography variant="caption" className="figures" color="text.secondary" sx={{ width: 16, pt: 2 }}>
            {i + 1}
          </Typography>
          <Numbers
            group="TravelSegment"
            at={`${at}.${String(i)}`}
            keys={['distance_km', 'speed_kmh', 'stops_per_km', 'stop_s', 'climb_m', 'acceleration_m_s2', 'liveliness']}
            width={108}
          />
          {segments.length > 1 && (
            <RemoveButton
              what={`stretch ${String(i + 1)} of ${trip.name}`}
              onClick={() => {
                edit(`${at}.${String(i)}`, undefined);
              }}
            />
          )}
        </Box>
      ))}
      <Button
        onClick={() => {
          edit(at, [...segments, { ...fresh, climb_m: 0 }]);
        }}
      >
        Add a stretch
      </Button>
    </>
  );
}

/** Weather of one trip; the site's until it is asked for. */
function WeatherFields({ at }: { at: string }) {
  const { draft, edit } = useWorkbench();
  const own = get(draft, at) != null;
  return own ? (
    <>
      <Numbers group="Weather" at={at} keys={['temperature_c', 'headwind_kmh']} width={120} />
      <Numbers group="Weather" at={at} keys={['rolling_factor']} width={170} />
      <Button
        color="inherit"
        onClick={() => {
          edit(at, undefined);
        }}
      >
        the site&rsquo;s weather
      </Button>
    </>
  ) : (
    <Button
      color="inherit"
      onClick={() => {
        edit(at, { rolling_factor: 1.2, temperature_c: 5 });
      }}
    >
      its own weather
    </Button>
  );
}

/** What the trips come to, from the estimate. */
function TripTable() {
  const { computed } = useResults();
  const system = useUnits();
  const trips = computed.estimate?.trips ?? [];
  if (trips.length === 0) return null;
  return (
    <WideTable aria-label="What the trips come to" sx={{ mt: 2 }}>
      <TableHead>
        <TableRow>
          <TableCell>Trip or schedule</TableCell>
          <TableCell align="right">length</TableCell>
          <TableCell align="right">at the battery</TableCell>
          <TableCell align="right">at the socket</TableCell>
          <TableCell align="right">charge used</TableCell>
          <TableCell align="right">range</TableCell>
          <TableCell>behind the trace</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {trips.map((t) => (
          <TableRow key={t.trip}>
            <TableCell>{t.name}</TableCell>
            <TableCell align="right" className="figures">
              {showText(t.distance_km, 'km', system)}
            </TableCell>
            <TableCell align="right" className="figures">
              {t.wh_per_km == null ? '–' : showText(t.wh_per_km, 'Wh/km', system)}
            </TableCell>
            <TableCell align="right" className="figures">
              {t.socket_wh_per_km == null ? '–' : showText(t.socket_wh_per_km, 'Wh/km', system)}
            </TableCell>
            <TableCell align="right" className="figures">
              {(t.soc_used * 100).toFixed(1)} %
            </TableCell>
            <TableCell align="right" className="figures">
              {t.range_km == null ? '–' : showText(t.range_km, 'km', system)}
              {t.range_ends_by !== 'window' && (
                <Typography variant="caption" component="div" color="warning.main">
                  {t.range_until}
                </Typography>
              )}
              <HeldPace pace={t.held_pace} />
            </TableCell>
            <TableCell sx={{ color: t.followed ? 'text.secondary' : 'error.main' }}>
              {t.off_trace_s > 0
                ? `${t.off_trace_s.toFixed(0)} s, ${showText(t.distance_km - t.driven_km, 'km', system)} short`
                : 'follows it'}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </WideTable>
  );
}

export function Trips() {
  const { draft, edit } = useWorkbench();
  const trips = draft.brief.trips ?? [];
  const chosen = draft.brief.schedules ?? [];
  const ranges = draft.donor.driveline.ranges?.length ?? 0;
  const used = (id: string) => usesOfTrip(draft.brief, id);
  return (
    <Section
      title="Trips"
      action={
        <>
          <TrackImport />
          <Button
            onClick={() => {
              edit('brief.trips', [
                ...trips,
                newTrip(
                  trips.map((t) => t.id),
                  draft.units,
                ),
              ]);
            }}
          >
            Add a trip
          </Button>
        </>
      }
    >
      {trips.map((t, i) => (
        <Box key={t.id} sx={{ mb: 2 }}>
          <Row>
            <Words at={`brief.trips.${String(i)}.name`} label="Name" width={200} />
            <Numbers
              group="Trip"
              at={`brief.trips.${String(i)}`}
              keys={['payload_kg', 'hvac_w', 'gear', 'start_soc', 'repeat']}
              width={130}
            />
            <Choice
              at={`brief.trips.${String(i)}.driving_style`}
              label="Driven"
              options={manners}
              fallback="normal"
              width={100}
            />
            {ranges > 1 && (
              <Numbers group="Trip" at={`brief.trips.${String(i)}`} keys={['transfer_range']} width={150} />
            )}
            <WeatherFields at={`brief.trips.${String(i)}.weather`} />
            <Button
              color="inherit"
              disabled={used(t.id) !== ''}
              title={used(t.id) || `Remove ${t.name}`}
              onClick={() => {
                edit(`brief.trips.${String(i)}`, undefined);
              }}
            >
              remove
            </Button>
          </Row>
          <Box sx={{ mt: 1 }}>
            <Segments trip={t} index={i} />
            <MeasuredDrives trip={t} index={i} />
            <TripStudyView trip={t} />
          </Box>
        </Box>
      ))}
      <TextField
        select
        label="Regulatory schedules computed too"
        value={chosen}
        sx={{ minWidth: 320 }}
        slotProps={{
          select: { multiple: true, renderValue: () => chosen.map((s) => schedules[s]).join(', ') || 'none' },
          inputLabel: { shrink: true },
        }}
        onChange={(e) => {
          edit('brief.schedules', e.target.value as unknown as Schedule[]);
        }}
      >
        {(Object.keys(schedules) as Schedule[]).map((s) => (
          <MenuItem key={s} value={s} dense disabled={used(s) !== ''}>
            {schedules[s]}
          </MenuItem>
        ))}
      </TextField>
      <TripTable />
    </Section>
  );
}
