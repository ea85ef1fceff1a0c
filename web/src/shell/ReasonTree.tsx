import { Box, Typography } from '@mui/material';
import { useId, useState } from 'react';
import type { Reason } from '../api/types';
import { sourceWords } from '../fields/QuantityField';
import { useClaimFigure } from '../common/claims';
import { digits } from '../units/units';
import { useSaid } from '../units/UnitsContext';

/** A figure whose parts may add up to it. */
interface Sum {
  unit: string;
  /** Digits after the point it is shown with. */
  places: number;
}

/** One step from a result to what it stands on; opens to the steps below it. */
function Step({ reason, depth, sum }: { reason: Reason; depth: number; sum?: Sum | undefined }) {
  const figure = useClaimFigure();
  const said = useSaid();
  const id = useId();
  const parts = reason.parts ?? [];
  const [open, setOpen] = useState(depth < 1);
  // A share of a sum is told to one digit more than the sum, so that the shares add up to its last.
  const places = sum && reason.unit === sum.unit && reason.unit !== 'money' ? sum.places + 1 : undefined;
  const shown = reason.value == null ? null : figure(reason.value, reason.unit, places);
  const own = reason.value == null ? undefined : { unit: reason.unit, places: places ?? digits(reason.value) };
  return (
    <Box component="li" sx={{ listStyle: 'none' }}>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: '20px 1fr auto',
          columnGap: 1,
          alignItems: 'baseline',
          py: 0.6,
          borderTop: '1px solid',
          borderColor: 'divider',
        }}
      >
        {parts.length > 0 ? (
          <Box
            component="button"
            type="button"
            aria-expanded={open}
            aria-controls={id}
            aria-label={`${open ? 'Close' : 'Open'} ${said(reason.title)}`}
            onClick={() => {
              setOpen(!open);
            }}
            sx={{
              border: 0,
              bgcolor: 'transparent',
              color: 'text.primary',
              cursor: 'pointer',
              font: 'inherit',
              p: 0,
              width: 24,
              height: 24,
            }}
          >
            {open ? '−' : '+'}
          </Box>
        ) : (
          <span />
        )}
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="body2" sx={{ fontWeight: depth === 0 ? 650 : 400 }}>
            {said(reason.title)}
          </Typography>
          {reason.formula !== undefined && reason.formula !== '' && (
            <Typography variant="caption" className="figures" component="p" color="text.secondary">
              {reason.formula}
            </Typography>
          )}
          {reason.source !== undefined && reason.source !== '' && (
            <Typography variant="caption" component="p" color="text.secondary" sx={{ fontStyle: 'italic' }}>
              {reason.source}
            </Typography>
          )}
          {reason.from != null && (
            <Typography
              variant="caption"
              component="p"
              color={reason.from === 'seller' || reason.from === 'guess' ? 'warning.main' : 'text.secondary'}
            >
              {sourceWords[reason.from].mark} {sourceWords[reason.from].word}
              {reason.spread_percent != null &&
                (reason.from === 'seller'
                  ? `, may fall short by ${reason.spread_percent.toFixed(0)} %`
                  : `, ± ${reason.spread_percent.toFixed(reason.spread_percent < 3 ? 1 : 0)} %`)}
            </Typography>
          )}
        </Box>
        <Typography variant="body2" className="figures" sx={{ whiteSpace: 'nowrap', fontWeight: 600 }}>
          {shown ? `${shown.text} ${shown.unit}` : ''}
        </Typography>
      </Box>
      {parts.length > 0 && (
        <Box component="ul" id={id} hidden={!open} sx={{ m: 0, p: 0, pl: 2.5 }}>
          {open && parts.map((p, i) => <Step key={String(i)} reason={p} depth={depth + 1} sum={own} />)}
        </Box>
      )}
    </Box>
  );
}

/** From a result down to formulas, inputs, how far each is trusted, and sources. */
export default function ReasonTree({ reason }: { reason: Reason }) {
  return (
    <Box component="ul" sx={{ m: 0, p: 0 }}>
      <Step reason={reason} depth={0} />
    </Box>
  );
}
