import { Box } from '@mui/material';
import type { Answers, VehicleKind } from '../api/types';
import { QuantityField } from '../fields/QuantityField';
import { assumed, field, showText } from '../units/units';
import { useUnits } from '../units/UnitsContext';

/** How far, how fast, how steep; a field left empty is not known, and says what is assumed. */
export function FirstQuestions({
  kind,
  answers,
  onChange,
  width = 190,
}: {
  kind: VehicleKind;
  answers: Answers;
  onChange: (answers: Answers) => void;
  /** Of each field, in CSS pixels. */
  width?: number;
}) {
  const system = useUnits();
  const usual = assumed(kind);
  const asked = (['longest_trip_km', 'session_min', 'fastest_kmh', 'steepest_percent'] as const).filter(
    (key) => usual[key] != null,
  );
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, rowGap: 2 }}>
      {asked.map((key) => {
        const of = field('Answers', key);
        return (
          <QuantityField
            // Another kind of vehicle asks anew.
            key={`${kind}-${key}`}
            of={{ ...of, default: `not known: ${showText(usual[key] ?? 0, of.unit, system)} assumed` }}
            value={answers[key]}
            width={width}
            onChange={(value) => {
              const { [key]: before, ...rest } = answers;
              if (value !== before) onChange(value === undefined ? rest : { ...rest, [key]: value });
            }}
          />
        );
      })}
    </Box>
  );
}
