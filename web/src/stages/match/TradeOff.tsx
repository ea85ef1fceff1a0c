import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { useId } from 'react';
import type { AxisInfo, Match } from '../../api/types';
import { type Frame, Scatter } from '../../charts/Scatter';
import { Title } from '../../charts/Title';
import { convert, figures, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { keyOf, type Plane, within } from './plane';
import { type Axis, count, valueOf } from './words';
import { Said } from '../../units/Said';
import { useSaid } from '../../units/UnitsContext';

/** Designs on two of the figures they are judged by; dragging keeps those inside the frame. */
export function TradeOff({
  designs,
  axes,
  plane,
  onPlane,
  marked,
  onPick,
}: {
  designs: Match[];
  axes: AxisInfo[];
  plane: Plane;
  onPlane: (plane: Plane) => void;
  marked: Set<string>;
  onPick: (m: Match) => void;
}) {
  const system = useUnits();
  const said = useSaid();
  const id = useId();
  const active = axes.filter((a) => a.active);
  const info = (axis: Axis) => axes.find((a) => a.axis === axis);
  const shown = designs.filter((m) => valueOf(m, plane.x) !== null && valueOf(m, plane.y) !== null);
  const extent = (axis: Axis): [number, number] => {
    const all = shown.map((m) => valueOf(m, axis) ?? 0);
    const target = info(axis)?.target;
    if (target != null) all.push(target);
    const [low, high] = [Math.min(...all), Math.max(...all)];
    const room = (high - low || Math.abs(high) || 1) * 0.06;
    return [low - room, high + room];
  };
  const [ex, ey] = [extent(plane.x), extent(plane.y)];
  const unit = (axis: Axis) => {
    const u = info(axis)?.unit ?? '';
    return u === 'money' ? '' : shownUnit(u, system);
  };
  const conv = (axis: Axis, v: number) => convert(v, info(axis)?.unit ?? '', unit(axis) || (info(axis)?.unit ?? ''));
  const back = (axis: Axis, v: number) => convert(v, unit(axis) || (info(axis)?.unit ?? ''), info(axis)?.unit ?? '');
  const scale = (axis: Axis) => ({
    target: info(axis)?.target ?? null,
    shown: (v: number) => conv(axis, v),
    stored: (v: number) => back(axis, v),
  });
  const told = (m: Match, axis: Axis) =>
    `${said(info(axis)?.name ?? [])} ${figures(conv(axis, valueOf(m, axis) ?? 0), 4)} ${unit(axis)}`.trim();
  const choose = (which: 'x' | 'y', label: string) => (
    <TextField
      select
      label={label}
      value={plane[which]}
      onChange={(e) => {
        onPlane({ ...plane, [which]: e.target.value as Axis, brush: null });
      }}
      sx={{ width: 190 }}
      slotProps={{ inputLabel: { shrink: true } }}
    >
      {active.map((a) => (
        <MenuItem key={a.axis} value={a.axis} dense>
          <Said of={a.name} />
        </MenuItem>
      ))}
    </TextField>
  );
  const kept = shown.filter((m) => within(m, plane)).length;
  const limit = (axis: 'x' | 'y', end: 0 | 1, typed: string) => {
    const value = Number(typed.replace(',', '.'));
    if (typed.trim() === '' || !Number.isFinite(value)) return;
    const brush: Frame = plane.brush ?? { x: [...ex], y: [...ey] };
    const range: [number, number] = [...brush[axis]];
    range[end] = back(plane[axis], value);
    onPlane({ ...plane, brush: { ...brush, [axis]: range } });
  };
  return (
    <Box>
      <figure aria-labelledby={id} style={{ margin: 0 }}>
        <figcaption id={id}>
          <Title
            word="Trade-off"
            note="round: alternating current, square: direct; hollow: salvaged cells; a point opens its design, by click or arrow keys; drag a frame to keep what is inside"
          />
        </figcaption>
        <Scatter
          x={{ ...scale(plane.x), extent: ex }}
          y={{ ...scale(plane.y), extent: ey }}
          summary={`${String(shown.length)} designs, ${said(info(plane.y)?.name ?? [])} over ${said(info(plane.x)?.name ?? [])}; the table lists them`}
          testId="trade-off"
          points={shown.map((m) => ({
            key: keyOf(m),
            name: `Number ${String(m.place)}: ${told(m, plane.y)}, ${told(m, plane.x)}`,
            x: valueOf(m, plane.x) ?? 0,
            y: valueOf(m, plane.y) ?? 0,
            square: m.direct_current,
            hollow: m.salvaged,
            marked: marked.has(keyOf(m)),
            faded: !within(m, plane),
            label: m.place === 1 ? 'first' : undefined,
            onPick: () => {
              onPick(m);
            },
          }))}
          frame={plane.brush}
          onFrame={(brush) => {
            onPlane({ ...plane, brush });
          }}
        />
      </figure>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'flex-end', mt: 1, flexWrap: 'wrap' }}>
        {choose('y', 'upwards')}
        {choose('x', 'across')}
        {plane.brush ? (
          <>
            {(['x', 'y'] as const).flatMap((which) =>
              ([0, 1] as const).map((end) => (
                <TextField
                  key={`${which}${String(end)}-${String(plane.brush?.[which][end])}`}
                  label={`${which === 'x' ? 'across' : 'up'} ${end === 0 ? 'from' : 'to'}`}
                  defaultValue={figures(conv(plane[which], plane.brush?.[which][end] ?? 0), 4)
                    .replaceAll(' ', '')
                    .replace('−', '-')}
                  onBlur={(e) => {
                    limit(which, end, e.target.value);
                  }}
                  onKeyDown={(e) => {
                    if (e.key === 'Enter') limit(which, end, (e.target as HTMLInputElement).value);
                  }}
                  sx={{ width: 76 }}
                  slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
                />
              )),
            )}
            <Button
              onClick={() => {
                onPlane({ ...plane, brush: null });
              }}
            >
              all again
            </Button>
          </>
        ) : (
          <Button
            onClick={() => {
              onPlane({ ...plane, brush: { x: [...ex], y: [...ey] } });
            }}
          >
            set bounds
          </Button>
        )}
        <Typography variant="caption" color="text.secondary" role="status">
          {plane.brush
            ? `${String(kept)} of ${String(designs.length)} inside`
            : `${count(designs.length, 'design')}; dotted: what the brief asks`}
        </Typography>
      </Box>
    </Box>
  );
}
