import { Box, Typography } from '@mui/material';
import type { RoadLoadEvidence } from '../../api/types';
import { SheetLines } from '../../charts/SheetLines';
import { Title } from '../../charts/Title';
import type { Sheet } from '../../theme';
import { convert, figures, shownUnit } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { Said } from '../../units/Said';

type Fit = NonNullable<RoadLoadEvidence['coast_down']>;

/** The forces of a coast-down with the fit through them, and what is left over. */
export default function CoastChart({ fit, sheet }: { fit: Fit; sheet: Sheet }) {
  const system = useUnits();
  const unit = shownUnit('km/h', system);
  const x = fit.forces.map((f) => convert(f.speed_kmh, 'km/h', unit));
  const residuals = fit.forces.map((f) => f.measured_n - f.fitted_n);
  const widest = Math.max(10, ...residuals.map(Math.abs)) * 1.2;
  return (
    <Box sx={{ mt: 2 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1.3fr 1fr' }, columnGap: 4 }}>
        <SheetLines
          title={
            <Title
              level="h3"
              word="Resistance"
              note={`points: both ways averaged; line: ${figures(fit.f0_n.value)} N + ${figures(fit.f2_n_s2_m2.value)} v²`}
            />
          }
          summary={`The fit is off by ${figures(fit.residual_n)} N on the mean.`}
          x={x}
          xUnit={unit}
          yWord="Force"
          yUnit="N"
          lines={[
            { id: 'fit', label: 'fit', data: fit.forces.map((f) => f.fitted_n), color: sheet.strong, width: 2 },
            {
              id: 'measured',
              label: 'measured',
              data: fit.forces.map((f) => f.measured_n),
              color: sheet.signal,
              marks: true,
              labelled: false,
            },
          ]}
          height={200}
        />
        <SheetLines
          title={<Title level="h3" word="Residuals" note="measured less fit; a slope in it means the fit is wrong" />}
          summary={`Between ${figures(Math.min(...residuals))} and ${figures(Math.max(...residuals))} N.`}
          x={x}
          xUnit={unit}
          yWord="Force"
          yUnit="N"
          yMin={-widest}
          yMax={widest}
          lines={[
            { id: 'left', label: 'residual', data: residuals, color: sheet.signal, marks: true, labelled: false },
          ]}
          height={200}
        />
      </Box>
      {fit.flags.map((f) => (
        <Typography key={f.at} variant="body2" color="warning.main" sx={{ mt: 0.5 }}>
          {f.at.replace('donor.evidence.coast_down.', '')}: <Said of={f.message} />
        </Typography>
      ))}
    </Box>
  );
}
