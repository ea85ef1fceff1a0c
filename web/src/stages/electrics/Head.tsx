import { Box, Typography } from '@mui/material';
import { memo } from 'react';
import type { ElectricsSheet } from '../../api/types';
import { TakeIt } from '../../parts/TakeIt';
import { Said } from '../../units/Said';

interface Props extends Pick<ElectricsSheet, 'ready' | 'assumed' | 'code'> {
  stops: number;
  /** Takes all that is open; absent where nothing is. */
  onAll: (() => void) | undefined;
}

/** Whether it is ready to be built, what was assumed, and everything open taken at once. */
export const Head = memo(function Head({ ready, assumed, code, stops, onAll }: Props) {
  return (
    <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap', mb: 2 }}>
      <Typography color="text.secondary" sx={{ flex: '1 1 420px' }}>
        {!ready && (
          <Box component="span" sx={{ color: 'error.main', fontWeight: 650 }}>
            ■ Not ready to be built: {stops === 1 ? '1 stop' : `${String(stops)} stops`}.{' '}
          </Box>
        )}
        {assumed.length > 0 && (
          <>
            Assumed, as nobody has said:{' '}
            {assumed.map((a, i) => (
              <span key={JSON.stringify(a)}>
                {i > 0 && '; '}
                <Said of={a} />
              </span>
            ))}
            .
          </>
        )}{' '}
        {code}
      </Typography>
      {onAll && (
        <TakeIt variant="outlined" onTake={onAll}>
          Take all that is open
        </TakeIt>
      )}
    </Box>
  );
});
