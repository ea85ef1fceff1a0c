import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api, reach, unwrap } from '../../api/client';
import { photographsQuery } from '../../api/stored';
import type { Photograph } from '../../api/types';
import { largestPhotograph, pictureOf, pictureTypes, smallPicture } from '../../common/photographs';
import { Failed } from '../../common/States';
import { Section } from '../../fields/Fields';
import { useWorkbench } from '../../workbench/WorkbenchContext';

/** Photographs of the vehicle as it was, and of what came out of it. */
export function Photographs() {
  const { id, say } = useWorkbench();
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const query = useQuery(photographsQuery(id));
  const [refused, setRefused] = useState<string[]>([]);
  const again = () => client.invalidateQueries({ queryKey: photographsQuery(id).queryKey });
  const add = useMutation({
    mutationFn: async (files: File[]) => {
      const lines: string[] = [];
      let added = 0;
      // One after the other: a phone's photographs are large, and the first ones are there while the last are still read.
      for (const file of files) {
        try {
          if (file.size > largestPhotograph)
            throw new Error(`${(file.size / 1024 / 1024).toFixed(0)} MB; up to 40 MB are accepted`);
          const picture = await smallPicture(file).catch(() => {
            throw new Error('no photograph this browser can read; JPEG, PNG or WebP are accepted');
          });
          const caption = file.name.replace(/\.[^.]*$/, '').slice(0, 300);
          await reach(async () =>
            unwrap(
              await api.POST('/api/v1/conversions/{id}/photographs', {
                params: { path: { id } },
                body: { caption, about: '', picture },
              }),
            ),
          );
          added += 1;
          await again();
        } catch (error) {
          lines.push(`${file.name}: ${error instanceof Error ? error.message : 'it was not taken'}`);
        }
      }
      return { added, lines };
    },
    onSuccess: ({ added, lines }) => {
      setRefused(lines);
      if (added > 0) say(`${String(added)} ${added === 1 ? 'photograph' : 'photographs'} added.`);
    },
  });
  const all = query.data ?? [];
  return (
    <Section
      title="Photographs"
      note="as it was, and each thing before it came out; kept small, without place and time"
      action={
        <>
          <Button disabled={add.isPending} onClick={() => input.current?.click()}>
            {add.isPending ? 'Being added' : 'Add photographs'}
          </Button>
          <input
            ref={input}
            type="file"
            accept={pictureTypes}
            aria-label="Add photographs"
            multiple
            hidden
            onChange={(e) => {
              const files = [...(e.target.files ?? [])];
              e.target.value = '';
              if (files.length > 0) add.mutate(files);
            }}
          />
        </>
      }
    >
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {refused.length > 0 && (
        <Box role="alert" sx={{ color: 'error.main', mb: 1 }}>
          {refused.map((line) => (
            <Typography key={line}>{line}</Typography>
          ))}
        </Box>
      )}
      {query.data && all.length === 0 && (
        <Typography color="text.secondary">
          Wiring before it is cut, brackets before they are off, the odometer, the rust. From the side, level with the
          wheels, one can lie under the drawing of the layout.
        </Typography>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(200px, 1fr))', gap: 2 }}>
        {all.map((p) => (
          <OnePhotograph key={p.id} photograph={p} onChanged={again} />
        ))}
      </Box>
    </Section>
  );
}

function OnePhotograph({ photograph, onChanged }: { photograph: Photograph; onChanged: () => Promise<void> }) {
  const { draft, say } = useWorkbench();
  const { id } = photograph;
  const [caption, setCaption] = useState(photograph.caption);
  const [asked, setAsked] = useState(false);
  const items = [...new Set((draft.donor.removed ?? []).map((r) => r.name))];
  if (photograph.about !== '' && !items.includes(photograph.about)) items.push(photograph.about);
  const change = useMutation({
    mutationFn: (to: { caption: string; about: string }) =>
      reach(async () => unwrap(await api.PUT('/api/v1/photographs/{id}', { params: { path: { id } }, body: to }))),
    onSuccess: onChanged,
    onError: (error) => {
      say(error.message);
    },
  });
  const remove = useMutation({
    mutationFn: () => reach(() => api.DELETE('/api/v1/photographs/{id}', { params: { path: { id } } })),
    onSuccess: onChanged,
    onError: (error) => {
      say(error.message);
    },
  });
  return (
    <Box component="figure" sx={{ m: 0 }} data-testid="photograph">
      <Box
        component="a"
        href={pictureOf(id)}
        target="_blank"
        rel="noreferrer"
        sx={{ display: 'block', bgcolor: 'action.hover' }}
      >
        <Box
          component="img"
          src={pictureOf(id, true)}
          alt={photograph.caption || 'photograph without a caption'}
          loading="lazy"
          sx={{ display: 'block', width: '100%', aspectRatio: '4 / 3', objectFit: 'contain' }}
        />
      </Box>
      <TextField
        label="Caption"
        fullWidth
        value={caption}
        onChange={(e) => {
          setCaption(e.target.value);
        }}
        onBlur={() => {
          if (caption !== photograph.caption) change.mutate({ caption, about: photograph.about });
        }}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 300 } }}
        sx={{ mt: 1 }}
      />
      <Box sx={{ display: 'flex', alignItems: 'end', gap: 1, mt: 1 }}>
        <TextField
          select
          label="Shows"
          value={photograph.about}
          onChange={(e) => {
            change.mutate({ caption, about: e.target.value });
          }}
          slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
          sx={{ flex: 1, minWidth: 0 }}
        >
          <MenuItem value="" dense>
            the vehicle
          </MenuItem>
          {items.map((name) => (
            <MenuItem key={name} value={name} dense>
              {name}
            </MenuItem>
          ))}
        </TextField>
        {/* It does not come back by undo, so it asks. */}
        <Button
          color={asked ? 'error' : 'primary'}
          disabled={remove.isPending}
          onClick={() => {
            if (asked) remove.mutate();
            else setAsked(true);
          }}
          onBlur={() => {
            setAsked(false);
          }}
        >
          {asked ? 'Remove for good' : 'Remove'}
        </Button>
      </Box>
    </Box>
  );
}
