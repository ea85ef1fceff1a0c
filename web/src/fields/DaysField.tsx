import { Box, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import type { Weekday } from '../api/types';
import { weekdays } from '../units/week';

/** Days of the week, each on or off. */
export function DaysField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: Weekday[];
  onChange: (days: Weekday[]) => void;
}) {
  return (
    <Box>
      <Typography variant="caption" color="text.secondary" component="div" aria-hidden sx={{ lineHeight: 1.4 }}>
        on
      </Typography>
      <ToggleButtonGroup
        size="small"
        value={value}
        aria-label={label}
        onChange={(_, days: Weekday[]) => {
          // In the order of the week, however they were pressed.
          onChange(weekdays.map((d) => d.id).filter((d) => days.includes(d)));
        }}
      >
        {weekdays.map((d) => (
          <ToggleButton
            key={d.id}
            value={d.id}
            aria-label={d.word}
            sx={{
              px: 0.75,
              py: 0.25,
              minWidth: 30,
              textTransform: 'none',
              fontSize: '0.75rem',
              color: 'text.secondary',
            }}
          >
            {d.short}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}
