import { Box, ButtonBase, Typography } from '@mui/material';
import { useDimmed } from '../../common/useDimmed';
import { useTheme } from '@mui/material/styles';
import { memo } from 'react';
import type { Band, Bands } from '../../api/types';
import { absentWord, useClaimFigure } from '../../common/claims';
import { type Results, useBands, useFreshness, useResults } from '../../workbench/WorkbenchContext';
import { Said } from '../../units/Said';

/** A figure and where it lies; painted anew only where that has changed. */
const FigureRow = memo(function FigureRow({ band: b, setFigure }: { band: Band; setFigure: (figure: string) => void }) {
  const figure = useClaimFigure();
  const theme = useTheme();
  const text = (band: Band, v: number | null | undefined) =>
    v == null ? absentWord(band.id) : figure(v, band.unit).text;
  const most = (b.p90 ?? b.p50 ?? 0) * 1.1 || 1;
  const worst = b.more_is_better ? 0 : most;
  const place = (v: number | null | undefined) => Math.min(100, Math.max(0, ((v ?? worst) / most) * 100));
  return (
    <ButtonBase
      onClick={() => {
        setFigure(b.id);
      }}
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr) 84px 118px', md: 'minmax(0, 1fr) 70px 96px 150px' },
        columnGap: 1.5,
        alignItems: 'center',
        textAlign: 'left',
        py: 0.5,
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Typography variant="body2" noWrap>
        <Said of={b.name} />
      </Typography>
      <Box
        component="svg"
        viewBox="0 0 100 8"
        width="100%"
        height="8"
        preserveAspectRatio="none"
        aria-hidden
        // On a phone the figures have the room.
        sx={{ display: { xs: 'none', md: 'block' } }}
      >
        <line x1="0" x2="100" y1="4" y2="4" stroke={theme.vars?.palette.divider} strokeWidth="1" />
        <rect
          x={place(b.p10)}
          width={Math.max(1, place(b.p90) - place(b.p10))}
          y="1.5"
          height="5"
          fill={theme.vars?.palette.sheet.bar}
        />
      </Box>
      <Typography variant="body2" className="figures" align="right" noWrap sx={{ fontWeight: 600 }}>
        {text(b, b.central)} {b.central == null ? '' : figure(b.central, b.unit).unit}
      </Typography>
      <Typography variant="caption" className="figures" align="right" color="text.secondary" noWrap>
        {text(b, b.p10)} – {text(b, b.p90)}
      </Typography>
    </ButtonBase>
  );
});

/** Every headline figure with its band; each opens to its main influences. */
export const HeadlineBands = memo(function HeadlineBands() {
  const { setFigure } = useResults();
  const [bands, bandsFresh] = [useBands(), useFreshness().bandsFresh];
  return <Rows bands={bands} bandsFresh={bandsFresh} setFigure={setFigure} />;
});

interface RowsProps extends Pick<Results, 'setFigure'> {
  bands: Bands | undefined;
  bandsFresh: boolean;
}

const Rows = memo(function Rows({ bands, bandsFresh, setFigure }: RowsProps) {
  const dimmed = useDimmed(!bandsFresh);
  if (!bands) return null;
  return (
    <Box component="section" aria-label="Headline figures" aria-busy={!bandsFresh} sx={{ mt: 2 }}>
      <Typography variant="h2" component="h3">
        Headline figures{' '}
        <Typography component="span" variant="caption" color="text.secondary">
          {bandsFresh
            ? 'and where each lies four times in five; open one to see its main influences'
            : 'before the last change; new ones are being worked out …'}
        </Typography>
      </Typography>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' },
          columnGap: 4,
          ...dimmed,
        }}
      >
        {bands.bands.map((b) => (
          <FigureRow key={b.id} band={b} setFigure={setFigure} />
        ))}
      </Box>
    </Box>
  );
});
