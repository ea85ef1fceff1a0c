import { Box, Button, ButtonBase, Drawer, IconButton, LinearProgress, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { placeChoicesQuery } from '../../api/queries';
import type { CircuitChoice, Slot } from '../../api/types';
import { Failed } from '../../common/States';
import { componentWord, ratingsOf } from '../../parts/summary';
import { Said } from '../../units/Said';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';
import { taken } from './taken';

const signed = (value: number, text: string) => (value > 0 ? `+ ${text}` : `− ${text}`);

function OneChoice({ choice, onPick }: { choice: CircuitChoice; onPick: () => void }) {
  const { draft } = useWorkbench();
  const system = useUnits();
  const c = choice.component;
  const suffices = choice.shortfalls.length === 0;
  return (
    <ButtonBase
      onClick={onPick}
      aria-label={`${choice.chosen ? 'In use: ' : 'Use '}${c.name}`}
      sx={{
        display: 'block',
        width: '100%',
        textAlign: 'left',
        px: 2.5,
        py: 1,
        borderTop: '1px solid',
        borderColor: 'divider',
        bgcolor: choice.chosen ? 'background.default' : 'transparent',
        '&:hover': { bgcolor: 'background.default' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Typography sx={{ fontWeight: 650 }}>{c.name}</Typography>
        {choice.chosen && <Typography variant="caption">in use</Typography>}
        <Box sx={{ flex: 1 }} />
        <Typography className="figures" sx={{ fontSize: '0.8rem', whiteSpace: 'nowrap' }}>
          {c.price
            ? Math.abs(choice.change_price) < 0.5
              ? '± 0'
              : signed(choice.change_price, figures(Math.abs(choice.change_price), 4))
            : 'no price'}{' '}
          {c.price ? (c.currency ?? draft.brief.currency) : ''}
          {Math.abs(choice.change_kg) >= 0.005 &&
            `, ${signed(choice.change_kg, showText(Math.abs(choice.change_kg), 'kg', system))}`}
        </Typography>
      </Box>
      <Typography variant="caption" color="text.secondary" component="div">
        {componentWord(c.kind)} · {ratingsOf(c, system)}
      </Typography>
      {suffices ? (
        <Typography variant="caption" component="div" sx={{ color: 'success.main', fontWeight: 600 }}>
          ● suffices
        </Typography>
      ) : (
        choice.shortfalls.map((s) => (
          <Typography key={JSON.stringify(s)} variant="caption" component="div" sx={{ color: 'warning.main' }}>
            ▲ <Said of={s} />
          </Typography>
        ))
      )}
    </ButtonBase>
  );
}

/** Every record for a place with what it would do there: those that suffice first. */
export function PlacePicker({ slot, name, onClose }: { slot: Slot; name: string; onClose: () => void }) {
  const { document, active, editAll, say } = useWorkbench();
  const { settled } = useResults();
  const [words, setWords] = useState('');
  const query = useQuery(placeChoicesQuery(settled, slot));
  const fresh = settled === document && !query.isPlaceholderData;
  const at = `designs.${active.id}`;
  const chosen = query.data?.choices.find((c) => c.chosen);
  const listed = (query.data?.choices ?? []).filter((c) =>
    c.component.name.toLowerCase().includes(words.toLowerCase()),
  );
  return (
    <Drawer
      anchor="right"
      open
      onClose={onClose}
      slotProps={{
        paper: { sx: { width: { xs: '100%', sm: 520 } }, 'aria-labelledby': 'place-title', role: 'dialog' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', px: 2.5, pt: 2, pb: 1, gap: 2 }}>
        <Typography variant="h2" id="place-title">
          {name}
        </Typography>
        <TextField
          autoFocus
          placeholder="search"
          value={words}
          onChange={(e) => {
            setWords(e.target.value);
          }}
          slotProps={{ htmlInput: { 'aria-label': 'Search parts' } }}
          sx={{ flex: 1 }}
        />
        {document.design.electrics?.fitted?.[slot] != null && (
          <Button
            onClick={() => {
              editAll(taken(at, slot, undefined, []));
              say('Taken out; undo puts it back.');
              onClose();
            }}
          >
            Take it out
          </Button>
        )}
        <IconButton onClick={onClose} aria-label="Close" size="small" sx={{ fontSize: 14, width: 30 }}>
          ✕
        </IconButton>
      </Box>
      <Box sx={{ height: 4 }}>{query.isFetching && <LinearProgress aria-label="Looking what each would do" />}</Box>
      <Typography variant="caption" color="text.secondary" sx={{ px: 2.5, pb: 1 }}>
        It must:{' '}
        {(query.data?.asks ?? []).map((a, i) => (
          <span key={JSON.stringify(a)}>
            {i > 0 && '; '}
            <Said of={a} />
          </span>
        ))}
        {query.data?.asks.length === 0 && 'nothing that this design tells'}. Money and mass are against{' '}
        {chosen ? chosen.component.name : 'nothing chosen'}.
      </Typography>
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      <Box sx={{ overflow: 'auto' }}>
        {listed.map((c) => (
          <OneChoice
            key={c.component.name}
            choice={c}
            onPick={() => {
              if (!fresh) return;
              editAll(taken(at, slot, c.component, c.also));
              onClose();
            }}
          />
        ))}
        {query.data && listed.length === 0 && (
          <Typography sx={{ p: 2.5 }}>No part passes. Add one of your own in the library.</Typography>
        )}
      </Box>
    </Drawer>
  );
}
