import { Box, MenuItem, TextField } from '@mui/material';
import type { PartKind } from '../api/types';
import { QuantityField } from '../fields/QuantityField';
import { field } from '../units/units';
import { useWorkbench } from '../workbench/WorkbenchContext';
import type { Filter } from './filters';

/** Bounds of what the list is narrowed by. */
const volts = { ...field('Motor', 'reference_voltage_v'), label: 'Works at', required: false, default: 'any voltage' };
const price = { ...field('Motor', 'price'), label: 'Costs at most', required: false, default: 'any price' };

/** What a picker's list is narrowed by: kind, voltage and price. */
export function PickerFilter({
  kind,
  kinds,
  filter,
  onChange: setFilter,
}: {
  kind: PartKind;
  kinds: [string, string][];
  filter: Filter;
  onChange: (filter: Filter) => void;
}) {
  const { document } = useWorkbench();
  return (
    <Box sx={{ display: 'flex', gap: 2, px: 2.5, pb: 1, flexWrap: 'wrap' }}>
      {kinds.length > 1 && (
        <TextField
          select
          label={kind === 'module' ? 'Chemistry' : 'Kind'}
          value={filter.kind}
          onChange={(e) => {
            setFilter({ ...filter, kind: e.target.value });
          }}
          sx={{ width: 190 }}
          slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
        >
          <MenuItem value="" dense>
            all
          </MenuItem>
          {kinds.map(([value, word]) => (
            <MenuItem key={value} value={value} dense>
              {word}
            </MenuItem>
          ))}
        </TextField>
      )}
      <QuantityField
        of={volts}
        value={filter.volts}
        width={110}
        onChange={(v) => {
          setFilter({ ...filter, volts: v });
        }}
      />
      <QuantityField
        of={price}
        value={filter.price}
        currency={document.brief.currency ?? ''}
        width={120}
        onChange={(v) => {
          setFilter({ ...filter, price: v });
        }}
      />
    </Box>
  );
}
