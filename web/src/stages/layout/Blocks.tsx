import { Button, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import type { LayoutSheet } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { Section } from '../../fields/Fields';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { groups } from './words';

/** The same blocks as a list, for keyboard and screen reader. */
export function Blocks({
  sheet,
  chosen,
  onChoose,
}: {
  sheet: LayoutSheet;
  chosen: string | null;
  onChoose: (path: string) => void;
}) {
  const system = useUnits();
  const m = (x: number) => showText(x, 'm', system, 3);
  return (
    <Section title="Every mass" note="choose one to type its place and size">
      <WideTable aria-label="Every mass and its place">
        <TableHead>
          <TableRow>
            <TableCell>No.</TableCell>
            <TableCell>What</TableCell>
            <TableCell />
            <TableCell align="right">Mass</TableCell>
            <TableCell align="right">Behind the front axle</TableCell>
            <TableCell align="right">To the right</TableCell>
            <TableCell align="right">Above the ground</TableCell>
            <TableCell align="right">Length, width, height</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {sheet.blocks.map((b, i) => (
            <TableRow key={b.path} selected={b.path === chosen} data-testid={`block-${b.path}`}>
              <TableCell className="figures">{i + 1}</TableCell>
              <TableCell component="th" scope="row" sx={{ py: 0 }}>
                <Button
                  size="small"
                  aria-pressed={b.path === chosen}
                  sx={{ justifyContent: 'flex-start', textAlign: 'left', px: 0.5 }}
                  onClick={() => {
                    onChoose(b.path);
                  }}
                >
                  {b.name}
                  {b.modules != null && `, ${String(b.modules)} ${b.modules === 1 ? 'module' : 'modules'}`}
                </Button>
              </TableCell>
              <TableCell sx={{ color: 'text.secondary' }}>{groups[b.kind] ?? ''}</TableCell>
              <TableCell align="right">{showText(b.mass_kg, 'kg', system, 3)}</TableCell>
              <TableCell align="right">
                {m(b.along_m)}
                {!b.placed && ' (usual)'}
              </TableCell>
              <TableCell align="right">{m(b.right_m)}</TableCell>
              <TableCell align="right">{m(b.up_m)}</TableCell>
              <TableCell align="right" sx={{ color: b.sized_by === 'said' ? undefined : 'text.secondary' }}>
                {[b.length_m, b.width_m, b.height_m].map((x) => showText(x, 'm', system, 2)).join(' × ')}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </WideTable>
    </Section>
  );
}
