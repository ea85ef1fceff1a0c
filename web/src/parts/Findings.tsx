import { memo } from 'react';
import { Box, Button, Typography } from '@mui/material';
import type { Finding } from '../api/types';
import { useSaid } from '../units/UnitsContext';

export const severities = {
  stop: { glyph: '■', word: 'Stop', color: 'error.main' },
  warn: { glyph: '▲', word: 'Warning', color: 'warning.main' },
  note: { glyph: '○', word: 'Note', color: 'text.secondary' },
} as const;

/** Where a finding is mended: in words, and how to get there. */
type PlaceOf = (finding: Finding) => { word: string; open: () => void } | undefined;

/** One finding; painted anew only where it has changed. */
const FindingRow = memo(function FindingRow({
  finding: f,
  placeOf,
}: {
  finding: Finding;
  placeOf: PlaceOf | undefined;
}) {
  const said = useSaid();
  const s = severities[f.severity];
  const place = f.severity === 'note' ? undefined : placeOf?.(f);
  return (
    <Box
      component="li"
      data-rule={f.rule}
      sx={{
        display: 'grid',
        gridTemplateColumns: '20px 1fr',
        py: 0.75,
        borderTop: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Box component="span" sx={{ color: s.color }} role="img" aria-label={s.word}>
        {s.glyph}
      </Box>
      <Box>
        <Typography variant="body2" sx={{ fontWeight: 600 }}>
          {said(f.message)}
        </Typography>
        <Typography variant="caption" color="text.secondary" component="p">
          {f.why} <b>{f.change}</b> ({f.source})
        </Typography>
        {place && (
          <Button onClick={place.open} sx={{ ml: -0.75 }} aria-label={`${place.word}: ${said(f.message)}`}>
            {place.word}
          </Button>
        )}
      </Box>
    </Box>
  );
});

/** What the rules found, the gravest first, each with why it matters, what to change, and a way to where that is done. */
export const Findings = memo(function Findings({ findings, placeOf }: { findings: Finding[]; placeOf?: PlaceOf }) {
  const said = useSaid();
  if (findings.length === 0) return <Typography color="text.secondary">Nothing found against it.</Typography>;
  return (
    <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }} aria-label="Findings">
      {findings.map((f) => (
        <FindingRow key={`${f.rule}-${said(f.message)}`} finding={f} placeOf={placeOf} />
      ))}
    </Box>
  );
});
