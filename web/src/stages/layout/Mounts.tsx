import { Box, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { MechanicsSheet, Mount, MountRow } from '../../api/types';
import { WideTable } from '../../common/WideTable';
import { Choice, Numbers, Row, Section } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { Toggle } from '../../fields/Toggle';
import { showText } from '../../units/units';
import { TakeIt } from '../../parts/TakeIt';
import { useUnits } from '../../units/UnitsContext';
import { useWorkbench } from '../../workbench/WorkbenchContext';
import { boltFields, useSystemWords } from './words';

/** Every block with what holds it in a crash, and whether it leaves the vehicle as it was. */
export function Mounts({ sheet }: { sheet: MechanicsSheet }) {
  const { document, active, edit } = useWorkbench();
  const words = useSystemWords();
  const system = useUnits();
  const kn = (newton: number) => showText(newton / 1000, 'kN', system, 3);
  const at = `designs.${active.id}.mechanics`;
  const mounts: Mount[] = document.design.mechanics?.mounts ?? [];
  const patterns = document.donor.bolt_patterns ?? [];
  const [along, across] = sheet.retention_g;
  const open = sheet.mounts.filter((r) => r.reversible == null);
  const mountOf = (r: MountRow): Mount => ({
    of: r.of,
    ...(r.name === '' ? {} : { name: r.name }),
    bolts: r.fewest,
  });
  return (
    <Section
      title="Mounts"
      note={`held against ${String(along)} g along and ${String(across)} g across, with a reserve of ${String(sheet.reserve)}`}
      action={
        open.length > 0 ? (
          <TakeIt
            onTake={() => {
              edit(`${at}.mounts`, [...mounts, ...open.map(mountOf)]);
            }}
          >
            The fewest M8 for all
          </TakeIt>
        ) : undefined
      }
    >
      <Row>
        <Numbers group="Retention" at={`${at}.retention`} keys={['along_g', 'across_g']} width={170} />
        <Toggle
          label="no new holes, nothing welded"
          on={document.design.mechanics?.no_new_holes ?? false}
          onChange={(on) => {
            edit(`${at}.no_new_holes`, on || undefined);
          }}
        />
      </Row>
      <WideTable aria-label="Mounts" sx={{ mt: 1, '& td': { verticalAlign: 'top' } }}>
        <TableHead>
          <TableRow>
            <TableCell>Holds</TableCell>
            <TableCell align="right">pulls with</TableCell>
            <TableCell>bolts</TableCell>
            <TableCell align="right">they bear</TableCell>
            <TableCell>into</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {sheet.mounts.map((r) => {
            const index = mounts.findIndex((m) => m.of === r.of && (m.name ?? '') === r.name);
            const mount = mounts[index];
            const own = `${at}.mounts.${String(index)}`;
            const pull = Math.max(r.along_n, r.across_n);
            const weak = !r.bolts_bear;
            return (
              <TableRow key={`${r.of} ${r.name}`} data-testid={`mount-${r.of}${r.name && `-${r.name}`}`}>
                <TableCell sx={{ minWidth: 130 }}>
                  {r.words}
                  <Typography variant="caption" color="text.secondary" component="div">
                    {words.kg(r.kg)}
                  </Typography>
                </TableCell>
                <TableCell align="right" className="figures" sx={{ whiteSpace: 'nowrap' }}>
                  {kn(pull)}
                </TableCell>
                {mount ? (
                  <>
                    <TableCell>
                      <Box sx={{ display: 'flex', gap: 1 }}>
                        <Numbers group="Mount" at={own} keys={['bolts']} width={56} />
                        <Choice
                          at={`${own}.thread`}
                          label="Thread"
                          width={72}
                          fallback="M8"
                          options={boltFields.threads}
                        />
                        <Choice
                          at={`${own}.class`}
                          label="Class"
                          width={72}
                          fallback="8.8"
                          options={boltFields.classes}
                        />
                        <Numbers group="Mount" at={own} keys={['flange_mm']} width={130} />
                      </Box>
                    </TableCell>
                    <TableCell align="right" className="figures" sx={{ color: weak ? 'error.main' : undefined }}>
                      {kn(r.bears_n)}
                      {weak && (
                        <Typography variant="caption" component="div">
                          ✕ {r.fewest} needed
                        </Typography>
                      )}
                      {r.sheet_n != null && (
                        <Typography
                          variant="caption"
                          component="div"
                          sx={{ color: r.sheet_bears ? 'text.secondary' : 'warning.main' }}
                        >
                          {!r.sheet_bears && '▲ '}sheet {kn(r.sheet_n)}
                        </Typography>
                      )}
                    </TableCell>
                    <TableCell>
                      <Box sx={{ display: 'flex', gap: 1 }}>
                        <Choice
                          at={`${own}.holes`}
                          label="Holes"
                          width={130}
                          fallback="existing"
                          options={boltFields.holes}
                        />
                        {(mount.holes ?? 'existing') === 'existing' && patterns.length > 0 && (
                          <Choice
                            at={`${own}.pattern`}
                            label="Which"
                            width={130}
                            fallback=""
                            options={[['', 'not said'], ...patterns.map((p): [string, string] => [p.name, p.name])]}
                          />
                        )}
                      </Box>
                    </TableCell>
                    <TableCell align="right">
                      <RemoveButton
                        what={`the mount of ${r.words}`}
                        onClick={() => {
                          edit(own, undefined);
                        }}
                      />
                    </TableCell>
                  </>
                ) : (
                  <TableCell colSpan={4}>
                    <TakeIt
                      label={`Hold ${r.words}`}
                      onTake={() => {
                        edit(`${at}.mounts`, [...mounts, mountOf(r)]);
                      }}
                    >
                      At least {r.fewest} × M8 8.8
                    </TakeIt>
                  </TableCell>
                )}
              </TableRow>
            );
          })}
        </TableBody>
      </WideTable>
      {sheet.stays.length > 0 && (
        <Typography sx={{ mt: 1 }} role="status">
          Leaves holes or welds: {sheet.stays.join(', ')}. The rest can be put back as it was.
        </Typography>
      )}
      {mounts.map((m, i) =>
        sheet.mounts.some((r) => r.of === m.of && r.name === (m.name ?? '')) ? null : (
          <Typography key={String(i)} sx={{ mt: 1, color: 'warning.main' }}>
            ▲ The mount of {m.name ?? 'a block'} holds nothing that is there any more.
            <RemoveButton
              what={`the mount of ${m.name ?? 'a block'}`}
              onClick={() => {
                edit(`${at}.mounts.${String(i)}`, undefined);
              }}
            />
          </Typography>
        ),
      )}
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
        Bolts in shear at six tenths of their strength, the wall of the hole at the yield of plain sheet. Welding on a
        frame, and whether a member may be drilled at all, is for a licensed workshop and your local code.
      </Typography>
    </Section>
  );
}
