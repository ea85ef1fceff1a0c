import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { newerQuery } from '../../api/queries';
import type { Claim, Newer } from '../../api/types';
import { absentWord, useClaimFigure, verdicts } from '../../common/claims';
import { changeWords } from '../../parts/changes';
import { useSaid, useUnits } from '../../units/UnitsContext';
import { useResults, useWorkbench } from '../../workbench/WorkbenchContext';

/** Figures of the goals that the newer record moves. */
function Moves({ newer }: { newer: Newer }) {
  const figure = useClaimFigure();
  const said = useSaid();
  const worded = (v: number | null | undefined, claim: Claim) => {
    if (v == null) return absentWord(claim.figure);
    const shown = figure(v, claim.unit);
    return `${shown.text} ${shown.unit}`;
  };
  const moved = (newer.after?.claims ?? []).flatMap((after) => {
    const before = newer.before?.claims.find((c) => c.goal === after.goal);
    const [was, is] = [worded(before?.predicted, after), worded(after.predicted, after)];
    const flips =
      before && before.verdict !== after.verdict
        ? ` ${verdicts[before.verdict].glyph}→${verdicts[after.verdict].glyph}`
        : '';
    return was === is && flips === '' ? [] : [`${said(after.name)} ${was} → ${is}${flips}`];
  });
  return <>{moved.length === 0 ? 'No goal moves.' : moved.join('; ')}</>;
}

/** Records of the library that have changed since this variant was made with them, offered with what they would change. */
export function NewerRecords() {
  const { editDesign } = useWorkbench();
  const { settled } = useResults();
  const system = useUnits();
  const query = useQuery(newerQuery(settled));
  const newer = query.isPlaceholderData ? [] : (query.data ?? []);
  if (newer.length === 0) return null;
  return (
    <Box component="section" aria-label="Newer records" sx={{ mb: 2 }}>
      {newer.map((n) => (
        <Box
          key={n.part}
          sx={{
            borderLeft: '3px solid',
            borderColor: 'warning.main',
            pl: 1.5,
            mb: 1,
            display: 'flex',
            gap: 2,
            alignItems: 'start',
          }}
        >
          <Box sx={{ flex: 1 }}>
            <Typography variant="body2" sx={{ fontWeight: 650 }}>
              The library has a newer record of {n.name}.
            </Typography>
            <Typography variant="caption" color="text.secondary" component="p">
              {n.changes
                .slice(0, 6)
                .map((c) => changeWords(c, system))
                .join('; ')}
              {n.changes.length > 6 ? `; and ${String(n.changes.length - 6)} more` : ''}. <Moves newer={n} />
            </Typography>
          </Box>
          <Button
            variant="outlined"
            onClick={() => {
              if (n.part === 'module') editDesign('pack', n.design.pack);
              else editDesign(n.part, n.design[n.part as 'motor' | 'controller' | 'charger']);
            }}
          >
            Use this record
          </Button>
        </Box>
      ))}
    </Box>
  );
}
