import { Button, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { LayoutSheet } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { Section } from '../../fields/Fields';
import { Said } from '../../units/Said';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';

/** Cables by the places of what they join; what is stated of them counts before that. */
export function Cables({ sheet }: { sheet: LayoutSheet }) {
  const { editDesign } = useWorkbench();
  const system = useUnits();
  const m = (x: number) => showText(x, 'm', system, 3, 'height');
  return (
    <Section title="Cables" note="lengths that the Electrics stage counts with where none is stated">
      {sheet.cables.length === 0 ? (
        <Typography color="text.secondary">
          Place the controller and every box of the pack along the vehicle, and the cables between them get their
          lengths.
        </Typography>
      ) : (
        <WideTable aria-label="Cables by the places of what they join">
          <TableHead>
            <TableRow>
              <TableCell>Cable</TableCell>
              <TableCell align="right">By the places</TableCell>
              <TableCell align="right">Stated</TableCell>
              <TableCell>How</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {sheet.cables.map((c) => (
              <TableRow key={c.kind} data-testid={`cable-${c.kind}`}>
                <TableCell component="th" scope="row">
                  {c.name}
                </TableCell>
                <TableCell align="right">{m(c.length_m)}</TableCell>
                <TableCell align="right" sx={c.differs ? { color: 'warning.main', fontWeight: 650 } : {}}>
                  {c.differs && '▲ '}
                  {c.stated_m == null ? 'counts as placed' : m(c.stated_m)}
                </TableCell>
                <TableCell sx={{ color: 'text.secondary' }}>
                  <Said of={c.formula} />
                </TableCell>
                <TableCell align="right">
                  {c.differs && c.path && (
                    <Button
                      aria-label={`Use this value: ${c.name}`}
                      onClick={() => {
                        if (c.path) editDesign(c.path, c.length_m);
                      }}
                    >
                      Use this value
                    </Button>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </WideTable>
      )}
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
        Keep traction cables out of reach of people, away from fuel remains, hot and moving parts and the zones that
        crush first; through metal only in a grommet.
      </Typography>
    </Section>
  );
}
