import { Box, Link as MuiLink, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useQueries } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'wouter';
import { bandsQuery, estimateQuery } from '../../api/queries';
import type { Document, Estimate } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { absentWord, bandWords, useClaimFigure, verdicts } from '../../common/claims';
import { showText } from '../../units/units';
import { useSaid, useUnits } from '../../units/UnitsContext';
import { Words } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { documentOf } from '../../workbench/draft';
import { judge } from '../../workbench/judge';
import { Toggle } from '../../fields/Toggle';
import { useWorkbench } from '../../workbench/WorkbenchContext';

interface Line {
  group: string;
  word: string;
  cells: { text: string; tone?: string }[];
}

export default function CompareView() {
  const { id, variants, draft, removeVariant } = useWorkbench();
  const system = useUnits();
  const said = useSaid();
  const figure = useClaimFigure();
  const [all, setAll] = useState(false);
  const documents = variants.map((v) => documentOf(draft, v));
  const results = useQueries({ queries: documents.map((d) => estimateQuery(d)) });
  const estimates = results.map((r) => r.data);
  const drawn = useQueries({
    queries: documents.map((d, i) => ({ ...bandsQuery(d), enabled: results[i]?.isSuccess ?? false })),
  });
  const judged = estimates.map((e, i) => e && judge(e.claims, drawn[i]?.data, !drawn[i]?.isPlaceholderData));

  const design = (group: string, word: string, of: (d: Document) => string): Line => ({
    group,
    word,
    cells: documents.map((d) => ({ text: of(d) })),
  });
  const result = (group: string, word: string, of: (e: Estimate) => string): Line => ({
    group,
    word,
    cells: estimates.map((e) => ({ text: e ? of(e) : '–' })),
  });
  const goals = draft.brief.goals ?? [];
  const lines: Line[] = [
    design('Parts', 'motor', (d) =>
      d.design.motor
        ? `${(d.design.motor_count ?? 1) > 1 ? `${String(d.design.motor_count)} × ` : ''}${d.design.motor.name}`
        : '–',
    ),
    design('Parts', 'controller', (d) => d.design.controller?.name ?? '–'),
    design('Parts', 'cell or module', (d) => d.design.pack?.module.name ?? '–'),
    result('Parts', 'pack', (e) => `${e.pack.layout}, ${showText(e.pack.gross_kwh, 'kWh', system)}`),
    design('Parts', 'charger', (d) => d.design.charger?.name ?? '–'),
    ...goals.map((g): Line => ({
      group: 'Claims',
      word: said(estimates.find((e) => e)?.claims.find((c) => c.goal === g.id)?.name ?? [g.id]),
      cells: judged.map((claims) => {
        const claim = claims?.find((c) => c.goal === g.id);
        if (!claim) return { text: '–' };
        const shown =
          claim.predicted == null ? { text: absentWord(claim.figure), unit: '' } : figure(claim.predicted, claim.unit);
        return {
          text: `${verdicts[claim.verdict].glyph} ${shown.text} ${shown.unit}${claim.band ? ` (${bandWords(claim.band, figure)})` : ''}`,
          tone: verdicts[claim.verdict].color,
        };
      }),
    })),
    ...(estimates.find((e) => e)?.trips ?? []).map((t) =>
      result('Energy', t.name, (e) => {
        const wh = e.trips.find((x) => x.trip === t.trip)?.wh_per_km;
        return wh == null ? 'does not move' : showText(wh, 'Wh/km', system);
      }),
    ),
    result('Body', 'converted, empty', (e) => showText(e.masses.converted_kg, 'kg', system, 4)),
    result('Body', 'parts bought', (e) => `${figure(e.cost.bought, 'money').text} ${draft.brief.currency ?? ''}`),
    result('Body', 'full charge', (e) => showText(e.pack.full_v, 'V', system, 4)),
    ...(['stop', 'warn'] as const).map((severity): Line => ({
      group: 'Findings',
      word: severity === 'stop' ? 'stops' : 'warnings',
      cells: estimates.map((e) => {
        const found = e?.findings.filter((f) => f.severity === severity) ?? [];
        return found.length === 0
          ? { text: 'none' }
          : { text: found.map((f) => f.message).join(' '), tone: severity === 'stop' ? 'error.main' : 'warning.main' };
      }),
    })),
  ];
  const differs = (l: Line) => l.cells.some((c) => c.text !== l.cells[0]?.text);
  const shown = lines.filter((l) => all || differs(l));

  return (
    <Box sx={{ maxWidth: 1100 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mb: 1 }}>
        <Typography variant="h2">Variants side by side</Typography>
        <Box sx={{ flex: 1 }} />
        <Toggle label="also what they share" on={all} onChange={setAll} />
      </Box>
      <WideTable aria-label="Variants side by side">
        <TableHead>
          <TableRow>
            <TableCell />
            {variants.map((v) => (
              <TableCell
                key={v.id}
                sx={{ verticalAlign: 'bottom', minWidth: 150, width: `${String(80 / variants.length)}%` }}
              >
                <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 0.5 }}>
                  <MuiLink
                    component={Link}
                    to={`/c/${id}/chain/${v.label}`}
                    sx={{ fontWeight: 700, color: 'text.primary' }}
                    aria-label={`Open variant ${v.label}`}
                  >
                    {v.label}
                  </MuiLink>
                  <Box sx={{ flex: 1 }} />
                  {variants.length > 1 && (
                    <RemoveButton
                      what={`variant ${v.label}`}
                      onClick={() => {
                        removeVariant(v.id);
                      }}
                    />
                  )}
                </Box>
                <Words at={`designs.${v.id}.name`} label="called" width={150} placeholder="a name of its own" />
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          <TableRow>
            <TableCell component="th" scope="row" sx={{ color: 'text.secondary' }}>
              remark
            </TableCell>
            {variants.map((v) => (
              <TableCell key={v.id}>
                <Words at={`designs.${v.id}.notes`} label={`remark on ${v.label}`} width={200} multiline />
              </TableCell>
            ))}
          </TableRow>
          {shown.map((l, i) => (
            <TableRow
              key={`${l.group}-${l.word}`}
              sx={{
                '& td, & th': {
                  borderTop: l.group === shown[i - 1]?.group ? 0 : '1px solid',
                  borderTopColor: 'text.secondary',
                  verticalAlign: 'top',
                },
              }}
            >
              <TableCell component="th" scope="row" sx={{ color: 'text.secondary', width: 200 }}>
                {l.word}
              </TableCell>
              {l.cells.map((c, n) => (
                <TableCell key={variants[n]?.id} sx={{ color: c.tone, fontWeight: c.tone ? 600 : 400 }}>
                  {c.text}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
      {shown.length === 0 && <Typography color="text.secondary">The variants do not differ.</Typography>}
    </Box>
  );
}
