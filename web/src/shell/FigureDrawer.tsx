import { Box, Drawer, IconButton, Tab, Tabs, Typography } from '@mui/material';
import { useDimmed } from '../common/useDimmed';
import { useQuery } from '@tanstack/react-query';
import { lazy, memo, Suspense, useState } from 'react';
import { reasonQuery, tornadoQuery } from '../api/queries';
import { useBands, useResults, useWorkbench, type Results } from '../workbench/WorkbenchContext';
import { Failed, Loading } from '../common/States';
import { Said } from '../units/Said';

const TornadoView = lazy(() => import('./TornadoView'));
const ReasonTree = lazy(() => import('./ReasonTree'));

function Looked({ figure }: { figure: string }) {
  const { document } = useWorkbench();
  const { setFigure } = useResults();
  const bands = useBands();
  const [tab, setTab] = useState<'hangs' | 'why'>('hangs');
  const tornado = useQuery({ ...tornadoQuery(document, figure), enabled: tab === 'hangs' });
  const reason = useQuery({ ...reasonQuery(document, figure), enabled: tab === 'why' });
  const query = tab === 'hangs' ? tornado : reason;
  const dimmed = useDimmed(query.isPlaceholderData);
  const name = bands?.bands.find((b) => b.id === figure)?.name ?? ['This figure'];
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, px: 2.5, pt: 2 }}>
        <Typography variant="h1" component="h2" id="figure-title" sx={{ flex: 1 }}>
          <Said of={name} />
        </Typography>
        <IconButton
          size="small"
          aria-label="Close"
          sx={{ fontSize: 14, width: 28, height: 28 }}
          onClick={() => {
            setFigure(null);
          }}
        >
          ✕
        </IconButton>
      </Box>
      <Tabs
        value={tab}
        onChange={(_, next: 'hangs' | 'why') => {
          setTab(next);
        }}
        sx={{ px: 2.5, minHeight: 36, borderBottom: '1px solid', borderColor: 'divider' }}
      >
        <Tab value="hangs" label="Main influences" sx={{ minHeight: 36, px: 0, mr: 3 }} />
        <Tab value="why" label="Why this number" sx={{ minHeight: 36, px: 0 }} />
      </Tabs>
      <Box
        role="region"
        aria-labelledby="figure-title"
        // What scrolls is scrolled by the keyboard, too.
        tabIndex={0}
        sx={{ p: 2.5, overflow: 'auto', ...dimmed }}
      >
        <Suspense fallback={<Loading what="the figure" />}>
          {query.isError ? (
            <Failed error={query.error} onRetry={() => void query.refetch()} />
          ) : query.isPending ? (
            <Loading what="256 samples of the design" />
          ) : tab === 'hangs' ? (
            tornado.data && <TornadoView tornado={tornado.data} />
          ) : (
            reason.data && <ReasonTree reason={reason.data} />
          )}
        </Suspense>
      </Box>
    </>
  );
}

/** One headline figure looked at closely: its band, what sways it, what would narrow it, and what it is made of. */
export function FigureDrawer() {
  const { figure, setFigure } = useResults();
  return <OneDrawer figure={figure} setFigure={setFigure} />;
}

const OneDrawer = memo(function OneDrawer({ figure, setFigure }: Pick<Results, 'figure' | 'setFigure'>) {
  return (
    <Drawer
      anchor="right"
      open={figure !== null}
      onClose={() => {
        setFigure(null);
      }}
      slotProps={{
        paper: {
          'aria-labelledby': 'figure-title',
          sx: { width: 'min(640px, 100vw)', borderLeft: '1px solid', borderColor: 'divider' },
        },
      }}
    >
      {figure !== null && <Looked key={figure} figure={figure} />}
    </Drawer>
  );
});
