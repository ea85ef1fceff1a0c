import { memo } from 'react';
import { Box, ButtonBase, Typography } from '@mui/material';
import { useTheme } from '@mui/material/styles';
import type { Estimate, Link, LinkKind } from '../../api/types';
import { mono } from '../../theme';
import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';
import { useSaid } from '../../units/UnitsContext';

export const linkWords: Record<LinkKind, string> = {
  pack: 'Pack',
  wiring: 'Fuse and cable',
  controller: 'Controller',
  motor: 'Motor',
  driveline: 'Gearing',
  tyres: 'Tyres',
};

const HEIGHT = 128;
/** Links far wider than the weakest are cut off, with a broken edge, so that the tight ones stay readable. */
const CUT_AT = 3;

interface Props {
  chain: Estimate['chain'];
  /** What the link is, in the owner's words. */
  names: Partial<Record<LinkKind, string>>;
  chosen: LinkKind | null;
  onChoose: (kind: LinkKind) => void;
}

function Bar({ link, scale, flow, tight }: { link: Link; scale: number; flow: number; tight: boolean }) {
  const theme = useTheme();
  const p = theme.vars?.palette;
  const ink = p?.sheet.bar;
  const middle = HEIGHT / 2;
  const most = HEIGHT - 4;
  const high = (w: number | null | undefined) => (w == null ? null : Math.min(most, w * scale));
  const peak = high(link.peak_w);
  const ever = high(link.continuous_w);
  const cut = link.peak_w != null && link.peak_w * scale > most;
  const pattern = `hatch-${link.kind}`;
  const rating = peak === null;
  return (
    <svg
      viewBox={`0 0 100 ${String(HEIGHT)}`}
      width="100%"
      height={HEIGHT}
      preserveAspectRatio="none"
      aria-hidden
      style={{ display: 'block' }}
    >
      <defs>
        <pattern id={pattern} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill={p?.background.paper} />
          <line x1="0" y1="0" x2="0" y2="6" stroke={ink} strokeWidth="2" />
        </pattern>
      </defs>
      <rect x="0" width="100" y={middle - flow / 2} height={flow} fill={p?.sheet.flow} />
      {rating && (
        <rect
          x="8"
          width="84"
          y={middle - 46}
          height="92"
          fill="none"
          stroke={ink}
          strokeDasharray="3 3"
          vectorEffect="non-scaling-stroke"
        />
      )}
      {peak !== null && (
        <rect
          x="8"
          width="84"
          y={middle - peak / 2}
          height={peak}
          fill={`url(#${pattern})`}
          stroke={ink}
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
        />
      )}
      {ever !== null && <rect x="8" width="84" y={middle - ever / 2} height={ever} fill={ink} />}
      {cut && (
        <>
          <path
            d={`M8 4 l10.5 -5 l10.5 5 l10.5 -5 l10.5 5 l10.5 -5 l10.5 5 l10.5 -5 l10.5 5 V-2 H8 Z`}
            fill={p?.background.default}
          />
          <path
            d={`M8 ${String(HEIGHT - 4)} l10.5 5 l10.5 -5 l10.5 5 l10.5 -5 l10.5 5 l10.5 -5 l10.5 5 l10.5 -5 V${String(HEIGHT + 2)} H8 Z`}
            fill={p?.background.default}
          />
        </>
      )}
      {tight && peak !== null && (
        <path
          d={`M4 ${String(middle - peak / 2 - 5)} H96 M4 ${String(middle + peak / 2 + 5)} H96`}
          stroke={p?.sheet.signal}
          strokeWidth="3"
          fill="none"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}

interface ColumnProps extends Pick<Props, 'onChoose'> {
  link: Link;
  name: string | undefined;
  /** Pixels a watt. */
  scale: number;
  /** Width of the flow that the weakest leaves, px. */
  flow: number;
  tight: boolean;
  tightEver: boolean;
  chosen: boolean;
}

/** One link of the drawing; painted anew only where something of its own changed. */
const LinkColumn = memo(function LinkColumn({
  link,
  name,
  scale,
  flow,
  tight,
  tightEver,
  chosen,
  onChoose,
}: ColumnProps) {
  const system = useUnits();
  const said = useSaid();
  const kw = (w: number | null | undefined) => (w == null ? 'not rated' : showText(w, 'W', system, w < 10_000 ? 2 : 3));
  const mark = tight ? (tightEver ? 'weakest link' : 'weakest at peak') : tightEver ? 'weakest, continuous' : '';
  return (
    <li>
      <ButtonBase
        onClick={() => {
          onChoose(link.kind);
        }}
        aria-pressed={chosen}
        aria-label={`${linkWords[link.kind]} ${name ?? ''}: ${kw(link.continuous_w)} continuously, ${kw(link.peak_w)} at peak. ${mark}`}
        sx={{
          display: { xs: 'grid', sm: 'block' },
          gridTemplateColumns: '58% 1fr',
          alignItems: 'center',
          width: '100%',
          textAlign: 'left',
          pb: 0.5,
          borderTop: { xs: '1px solid', sm: 0 },
          borderColor: { xs: 'divider', sm: 'divider' },
          bgcolor: chosen ? 'background.paper' : 'transparent',
          '&:hover': { bgcolor: 'background.paper' },
        }}
      >
        <Box sx={{ px: '8%', gridColumn: 1, gridRow: 1, minWidth: 0 }}>
          <Typography sx={{ fontWeight: 650, lineHeight: 1.3 }}>{linkWords[link.kind]}</Typography>
          <Typography variant="caption" color="text.secondary" noWrap component="div" title={name}>
            {name ?? '\u00a0'}
          </Typography>
        </Box>
        <Box sx={{ gridColumn: 2, gridRow: '1 / span 2', '& svg': { height: { xs: 76, sm: HEIGHT } } }}>
          <Bar link={link} scale={scale} flow={flow} tight={tight} />
        </Box>
        <Box sx={{ px: '8%', gridColumn: 1, gridRow: 2, minWidth: 0 }}>
          <Box
            sx={{
              fontFamily: mono,
              fontSize: '0.78rem',
              display: 'flex',
              justifyContent: 'space-between',
              gap: 1,
              letterSpacing: '-0.03em',
              whiteSpace: 'nowrap',
            }}
          >
            <b>{kw(link.continuous_w)}</b>
            <span>
              {link.peak_w != null && link.peak_w !== link.continuous_w
                ? `${kw(link.peak_w)}${link.peak_s == null ? '' : ` ${String(link.peak_s)}s`}`
                : ''}
            </span>
          </Box>
          <Typography variant="caption" color="text.secondary" component="div" noWrap title={said(link.rating)}>
            {said(link.rating)}
          </Typography>
          <Typography
            variant="caption"
            component="div"
            sx={{ color: tight ? 'error.main' : 'text.secondary', fontWeight: 650, minHeight: 16 }}
          >
            {mark}
          </Typography>
        </Box>
      </ButtonBase>
    </li>
  );
});

/** The drawing of the chain: each link as tall as the power it lets through to the wheels, and the flow that the weakest leaves. */
export const PowerPath = memo(function PowerPath({ chain, names, chosen, onChoose }: Props) {
  const weakest = chain.links.find((l) => l.kind === chain.weakest_peak)?.peak_w ?? 1;
  const scale = (HEIGHT - 4) / (CUT_AT * Math.max(weakest, 1));
  return (
    <Box
      component="ol"
      aria-label="Power path from cell to tyre"
      sx={{
        display: 'grid',
        // On a phone one link a row, its bar beside its figures.
        gridTemplateColumns: { xs: '1fr', sm: `repeat(${String(chain.links.length)}, minmax(96px, 1fr))` },
        m: 0,
        p: 0,
        listStyle: 'none',
        overflowX: 'auto',
      }}
    >
      {chain.links.map((link) => (
        <LinkColumn
          key={link.kind}
          link={link}
          name={names[link.kind]}
          scale={scale}
          flow={Math.min(weakest * scale, HEIGHT)}
          tight={link.kind === chain.weakest_peak}
          tightEver={link.kind === chain.weakest_continuous}
          chosen={chosen === link.kind}
          onChoose={onChoose}
        />
      ))}
    </Box>
  );
});
