import { Box, Button, IconButton, Typography } from '@mui/material';
import type { CircuitPart, ElectricsSheet } from '../../api/types';
import { Said } from '../../units/Said';
import { figures, showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';

/** What stands behind a symbol: its rating, what sized it, what was found, and the wires on it. */
export function PartPanel({
  part,
  sheet,
  onExchange,
  onClose,
}: {
  part: CircuitPart;
  sheet: ElectricsSheet;
  /** Opens the records for its place; absent where it has none. */
  onExchange: (() => void) | undefined;
  onClose: () => void;
}) {
  const { draft } = useWorkbench();
  const system = useUnits();
  const line = sheet.groups.flatMap((g) => g.lines).find((l) => l.id === part.line);
  const wires = sheet.circuit.wires.filter((w) => w.from === part.id || w.to === part.id);
  return (
    <Box
      component="section"
      aria-label={`${part.id}, ${part.name}`}
      sx={{ borderLeft: '3px solid', borderColor: 'text.primary', pl: 2, py: 0.5, my: 1.5 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h3">
          {part.id} {part.name}
        </Typography>
        <Typography>
          <Said of={part.rating} />
        </Typography>
        <Typography color="text.secondary">
          {part.record ?? 'nothing chosen'}
          {part.mass_kg != null && ` · ${showText(part.mass_kg, 'kg', system)}`}
          {part.price != null && ` · ${figures(part.price, 5)} ${draft.brief.currency ?? ''}`}
          {part.count !== 1 && ` · ${figures(part.count)} ${part.symbol === 'cable' ? 'm of it' : 'of them'}`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        {onExchange && <Button onClick={onExchange}>{part.record == null ? 'Choose …' : 'Exchange …'}</Button>}
        <IconButton size="small" aria-label="Close details" onClick={onClose} sx={{ fontSize: 14, width: 28 }}>
          ✕
        </IconButton>
      </Box>
      {part.troubles.map((t) => (
        <Typography key={JSON.stringify(t)} sx={{ color: part.severity === 'stop' ? 'error.main' : 'warning.main' }}>
          {part.severity === 'stop' ? '■' : '▲'} <Said of={t} />
        </Typography>
      ))}
      {line && (
        <Typography variant="body2">
          <b>
            <Said of={line.result} />
          </b>{' '}
          <Said of={line.formula} /> <i>({line.source})</i>
        </Typography>
      )}
      {wires.length > 0 && (
        <Typography variant="body2" color="text.secondary">
          {wires
            .map((w) =>
              [
                `${w.id}: ${w.from === part.id ? `to ${w.to}` : `from ${w.from}`}`,
                [w.cores > 1 ? `${String(w.cores)} ×` : '', w.section].filter((x) => x !== '').join(' '),
                w.fuse == null ? '' : `behind ${w.fuse}`,
              ]
                .filter((x) => x !== '')
                .join(', '),
            )
            .join(' · ')}
        </Typography>
      )}
    </Box>
  );
}
