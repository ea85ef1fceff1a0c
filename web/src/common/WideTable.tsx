import { Box, Table, type TableProps } from '@mui/material';

/** A table that scrolls within itself where the window is too narrow for it. */
export function WideTable(props: TableProps) {
  return (
    <Box sx={{ overflowX: 'auto', maxWidth: '100%' }}>
      <Table size="small" {...props} />
    </Box>
  );
}
