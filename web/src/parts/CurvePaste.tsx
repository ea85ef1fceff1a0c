import { Box, Button, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { useResults, useWorkbench } from '../workbench/WorkbenchContext';
import { curvePoints, rows } from './rows';
import { refusalOf } from '../units/refusal';

/** The torque curve of a data sheet, pasted; with efficiencies the losses are fitted to it. */
export function CurvePaste() {
  const { document, editDesign } = useWorkbench();
  const { computed } = useResults();
  const model = document.design.motor?.model;
  const points = model?.kind === 'points' ? model.points : [];
  const kept = points
    .map((p) => [p.speed_rpm, p.torque_nm, ...(p.efficiency == null ? [] : [p.efficiency])].join('  '))
    .join('\n');
  const [typed, setTyped] = useState<string | null>(null);
  const [slip, setSlip] = useState('');
  const refused = computed.problem?.problems.filter((p) => p.path.startsWith('design.motor.model.points')) ?? [];
  const take = () => {
    const read = rows(typed ?? '', [2, 3]);
    if (typeof read === 'string' || read.length < 2) {
      setSlip(typeof read === 'string' ? read : 'at least 2 points are needed');
      return;
    }
    setSlip('');
    setTyped(null);
    editDesign('motor.model', {
      kind: 'points',
      points: curvePoints(read),
    });
  };
  return (
    <Box sx={{ mt: 1.5, maxWidth: 460 }}>
      <TextField
        fullWidth
        multiline
        minRows={3}
        maxRows={10}
        label="Torque curve of its data sheet: rpm, N·m and perhaps efficiency; a row each"
        placeholder={'0 150\n2500 150 0.87\n5000 104 0.91'}
        value={typed ?? kept}
        onChange={(e) => {
          setTyped(e.target.value);
        }}
        slotProps={{ inputLabel: { shrink: true }, input: { className: 'figures' } }}
      />
      {typed !== null && typed !== kept && (
        <Button variant="outlined" sx={{ mt: 0.5 }} onClick={take}>
          Use this curve
        </Button>
      )}
      {[slip, ...refused.map(refusalOf)]
        .filter((m) => m !== '')
        .map((m) => (
          <Typography key={m} role="alert" color="error">
            {m}
          </Typography>
        ))}
    </Box>
  );
}
