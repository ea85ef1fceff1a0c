import { Box, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import type { Match } from '../../api/types';
import { figures } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { motorWords, packWords } from './words';
import { Said } from '../../units/Said';
import { useSaid } from '../../units/UnitsContext';

const links: Record<string, string> = {
  pack: 'pack',
  wiring: 'fuse and cable',
  controller: 'controller',
  motor: 'motor',
  driveline: 'driveline',
  tyres: 'tyres',
};

/** Why a design is no better: its weakest link and the claim with the least margin. */
export function Held({ m }: { m: Match }) {
  const h = m.held_back;
  if (!h) return null;
  const claim = h.weakest_claim;
  const margin = claim?.margin;
  return (
    <>
      <span>{links[h.weakest_link]}</span>
      {claim && (
        <Typography
          variant="caption"
          component="div"
          color={margin != null && margin < 0 ? 'warning.main' : 'text.secondary'}
        >
          <Said of={claim.name} />{' '}
          {margin == null
            ? 'never'
            : margin < 0
              ? `misses by ${figures(-margin * 100, 2)} %`
              : `${figures(margin * 100, 2)} % to spare`}
        </Typography>
      )}
    </>
  );
}

/** A design in full: its parts, what is weakest and what is warned of. */
export function Details({ m, children }: { m: Match; children: ReactNode }) {
  const h = m.held_back;
  const system = useUnits();
  const said = useSaid();
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 2, py: 1 }}>
      <Box>
        <Typography variant="body2">
          {motorWords(m)}, {m.mount}, {m.gearing} · {m.pick.controller}
          {m.pick.motor_count > 1 ? ', one for each motor' : ''} · {m.pick.module}, {m.pick.modules_in_series} in
          series, {m.pick.strings_in_parallel} in parallel ({packWords(m, system)}) · {m.pick.charger ?? 'no charger'}
        </Typography>
        {h && (
          <Typography variant="caption" color="text.secondary" component="p">
            Weakest at peak: {links[h.weakest_link]}, {said(h.weakest_rating)}.
            {h.weakest_claim &&
              ` Weakest claim: ${said(h.weakest_claim.name)}, limited by ${h.weakest_claim.limited_by}.`}
          </Typography>
        )}
        {h?.warnings.map((w) => (
          <Typography key={said(w)} variant="caption" component="p" sx={{ color: 'warning.main' }}>
            ▲ {said(w)}
          </Typography>
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>{children}</Box>
    </Box>
  );
}
