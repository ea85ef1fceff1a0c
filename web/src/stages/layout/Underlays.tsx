import { Box, Button, MenuItem, Slider, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { photographsQuery } from '../../api/stored';
import type { Photograph, Underlay } from '../../api/types';
import { pictureOf } from '../../common/photographs';
import { Numbers, Row, Section } from '../../fields/Fields';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import type { View } from './useHeld';

const views: [View, string][] = [
  ['side', 'from the side'],
  ['plan', 'from above'],
];

/** A photograph under the drawing, scaled by the middles of two wheels. */
export function Underlays() {
  const { id, draft, edit } = useWorkbench();
  const query = useQuery(photographsQuery(id));
  const photographs = query.data ?? [];
  return (
    <Section
      title="Photograph under the drawing"
      note="from far away and level, so that the wheels are as far apart as they are"
    >
      {query.data && photographs.length === 0 && (
        <Typography color="text.secondary">Photographs are added on the Donor stage.</Typography>
      )}
      {photographs.length > 0 &&
        views.map(([view, word]) => {
          const at = `donor.underlays.${view}`;
          const under = draft.donor.underlays?.[view];
          return (
            <Box key={view} sx={{ mb: 2 }}>
              <TextField
                select
                label={`Under the view ${word}`}
                value={under && photographs.some((p) => p.id === under.photograph) ? under.photograph : ''}
                sx={{ width: 260 }}
                slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
                onChange={(e) => {
                  const photograph = e.target.value;
                  const points = { front_across: 0.25, front_down: 0.7, rear_across: 0.75, rear_down: 0.7 };
                  edit(at, photograph === '' ? undefined : { ...points, ...under, photograph });
                }}
              >
                <MenuItem value="" dense>
                  none
                </MenuItem>
                {photographs.map((p) => (
                  <MenuItem key={p.id} value={p.id} dense>
                    {p.caption || 'without a caption'}
                  </MenuItem>
                ))}
              </TextField>
              {under && <Points at={at} under={under} of={photographs.find((p) => p.id === under.photograph)} />}
            </Box>
          );
        })}
    </Section>
  );
}

/** Two points on a photograph: clicked one after the other, or typed. */
function Points({ at, under, of }: { at: string; under: Underlay; of: Photograph | undefined }) {
  const { edit, editAll } = useWorkbench();
  const [next, setNext] = useState<'front' | 'rear'>('front');
  if (!of) return <Typography sx={{ color: 'warning.main' }}>▲ That photograph is not there any more.</Typography>;
  const mark = (which: 'front' | 'rear') => (
    <Box
      aria-hidden
      sx={{
        position: 'absolute',
        left: `${String(100 * under[`${which}_across`])}%`,
        top: `${String(100 * under[`${which}_down`])}%`,
        width: 22,
        height: 22,
        border: '2px solid',
        borderColor: 'error.main',
        borderRadius: '50%',
        transform: 'translate(-50%, -50%)',
        pointerEvents: 'none',
        fontSize: 11,
        fontWeight: 700,
        color: 'error.main',
        display: 'grid',
        placeItems: 'center',
        bgcolor: 'rgba(255,255,255,0.6)',
      }}
    >
      {which === 'front' ? 'F' : 'R'}
    </Box>
  );
  return (
    <Box sx={{ mt: 1 }}>
      <Typography variant="caption" color="text.secondary" component="p">
        Click the middle of the {next} wheel, or type both as shares of width and height.
      </Typography>
      <Box
        sx={{ position: 'relative', maxWidth: 520, cursor: 'crosshair', mb: 1.5 }}
        onClick={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          const share = (x: number) => Number(Math.min(1, Math.max(0, x)).toFixed(4));
          editAll([
            [`${at}.${next}_across`, share((e.clientX - box.left) / box.width)],
            [`${at}.${next}_down`, share((e.clientY - box.top) / box.height)],
          ]);
          setNext((now) => (now === 'front' ? 'rear' : 'front'));
        }}
      >
        <Box
          component="img"
          src={pictureOf(of.id)}
          alt={of.caption || 'photograph'}
          // Its room is kept until it has come, so that nothing moves under a click.
          sx={{ display: 'block', width: '100%', aspectRatio: `${String(of.width)} / ${String(of.height)}` }}
        />
        {mark('front')}
        {mark('rear')}
      </Box>
      <Row>
        <Numbers
          group="Underlay"
          at={at}
          keys={['front_across', 'front_down', 'rear_across', 'rear_down']}
          width={160}
        />
        <Box sx={{ width: 160 }}>
          <Typography variant="caption" color="text.secondary">
            Shows
          </Typography>
          <Slider
            size="small"
            aria-label="How strongly it shows"
            min={0}
            max={1}
            step={0.05}
            value={under.strength ?? 0.5}
            onChange={(_, value) => {
              edit(`${at}.strength`, value);
            }}
          />
        </Box>
        <Button
          onClick={() => {
            edit(at, undefined);
          }}
        >
          Take it away
        </Button>
      </Row>
    </Box>
  );
}
