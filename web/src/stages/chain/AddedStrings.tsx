import { Box, Button, Typography } from '@mui/material';
import { Numbers, Row } from '../../fields/Fields';
import { RemoveButton } from '../../fields/RemoveButton';
import { useWorkbench } from '../../workbench/WorkbenchContext';

/** Strings of another age or kind put in parallel later. */
export function AddedStringsFields() {
  const { document, editDesign, active } = useWorkbench();
  const pack = document.design.pack;
  if (!pack) return null;
  const added = pack.added_strings ?? [];
  return (
    <Box sx={{ mt: 1 }}>
      {added.map((s, i) => (
        <Box key={String(i)} sx={{ py: 0.5 }}>
          <Row>
            <Typography sx={{ pt: 2, width: 200 }} noWrap>
              + {s.module.name}
            </Typography>
            <Numbers
              group="AddedStrings"
              at={`designs.${active.id}.pack.added_strings.${String(i)}`}
              keys={['modules_in_series', 'strings_in_parallel']}
              width={130}
            />
            <Numbers
              group="Module"
              at={`designs.${active.id}.pack.added_strings.${String(i)}.module`}
              keys={['capacity_share', 'resistance_factor']}
              width={150}
            />
            <RemoveButton
              what={`the strings of ${s.module.name}`}
              onClick={() => {
                editDesign(`pack.added_strings.${String(i)}`, undefined);
              }}
            />
          </Row>
        </Box>
      ))}
      <Button
        onClick={() => {
          const { module, modules_in_series } = pack;
          const fresh = { ...module, capacity_share: 1, resistance_factor: 1 };
          editDesign('pack.added_strings', [...added, { module: fresh, modules_in_series, strings_in_parallel: 1 }]);
        }}
      >
        Add new strings in parallel
      </Button>
      {added.length > 0 && (
        <Typography variant="caption" color="text.secondary" component="p">
          Join them only at equal voltage, through fuses of their own: the difference drives a current nothing limits.
        </Typography>
      )}
    </Box>
  );
}
