import { Box, ButtonBase, Typography } from '@mui/material';
import { memo, useState } from 'react';
import type { ElectricsGroup, ElectricsLine } from '../api/types';
import { Said } from '../units/Said';
import { TakeIt } from './TakeIt';

const marks: Record<ElectricsLine['state'], { glyph: string; word: string; color: string }> = {
  sound: { glyph: '●', word: 'suffices', color: 'text.secondary' },
  warn: { glyph: '▲', word: 'look at it', color: 'warning.main' },
  stop: { glyph: '✕', word: 'stop', color: 'error.main' },
};

/** One derived figure; its formula, inputs and source open below it. */
const OneLine = memo(function OneLine({
  line,
  onTake,
}: {
  line: ElectricsLine;
  onTake: (line: ElectricsLine) => void;
}) {
  const [open, setOpen] = useState(false);
  const mark = marks[line.state];
  return (
    <Box component="li" data-line={line.id} sx={{ borderBottom: '1px solid', borderColor: 'divider', py: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', columnGap: 2, flexWrap: 'wrap' }}>
        <ButtonBase
          aria-expanded={open}
          onClick={() => {
            setOpen(!open);
          }}
          sx={{ width: 200, justifyContent: 'flex-start', textAlign: 'left', font: 'inherit', minHeight: 26 }}
        >
          <Typography component="span" color="text.secondary">
            {line.name}
          </Typography>
        </ButtonBase>
        <Typography component="span" sx={{ flex: '1 1 260px', fontWeight: 600 }}>
          <Said of={line.result} />
        </Typography>
        {line.state !== 'sound' && (
          <Typography component="span" sx={{ color: mark.color, flex: '1 1 240px' }}>
            {mark.glyph} <b>{mark.word}</b>: <Said of={line.trouble} />
          </Typography>
        )}
        {line.takes.length > 0 && (
          <TakeIt
            label={`Take it: ${line.name}`}
            onTake={() => {
              onTake(line);
            }}
          />
        )}
      </Box>
      {open && (
        <Typography variant="body2" color="text.secondary" sx={{ pl: { xs: 0, sm: '216px' } }}>
          <Said of={line.formula} /> <i>({line.source})</i>
        </Typography>
      )}
    </Box>
  );
});

/** The lines of a group. */
export function GroupLines({ group, onTake }: { group: ElectricsGroup; onTake: (line: ElectricsLine) => void }) {
  return (
    <Box component="ul" aria-label={group.name} sx={{ listStyle: 'none', m: 0, p: 0 }}>
      {group.lines.map((l) => (
        <OneLine key={l.id} line={l} onTake={onTake} />
      ))}
    </Box>
  );
}
