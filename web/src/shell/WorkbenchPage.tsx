import { Box } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { useParams } from 'wouter';
import { conversionQuery } from '../api/stored';
import { WorkbenchProvider } from '../workbench/WorkbenchProvider';
import { ClaimsStrip } from './ClaimsStrip';
import { FigureDrawer } from './FigureDrawer';
import { Shortcuts } from './Shortcuts';
import { StageRail } from './StageRail';
import { Boundary } from '../common/Boundary';
import { Failed, Loading } from '../common/States';
import { TopBar } from './TopBar';

const views = {
  brief: lazy(() => import('../stages/brief/BriefStage')),
  donor: lazy(() => import('../stages/donor/DonorStage')),
  match: lazy(() => import('../stages/match/MatchStage')),
  chain: lazy(() => import('../stages/chain/ChainStage')),
  charge: lazy(() => import('../stages/charge/ChargeStage')),
  electrics: lazy(() => import('../stages/electrics/ElectricsStage')),
  layout: lazy(() => import('../stages/layout/LayoutStage')),
  compare: lazy(() => import('../stages/compare/CompareView')),
};

export default function WorkbenchPage() {
  const { id = '', stage = 'brief' } = useParams();
  const conversion = useQuery(conversionQuery(id));
  const [help, setHelp] = useState(false);
  const main = useRef<HTMLElement>(null);
  const shown = useRef(stage);
  useEffect(() => {
    // Who went to another stage goes on reading there.
    if (shown.current !== stage) main.current?.focus({ preventScroll: true });
    shown.current = stage;
  }, [stage]);
  if (conversion.isPending) return <Loading what="the conversion" />;
  if (conversion.isError) return <Failed error={conversion.error} onRetry={() => void conversion.refetch()} />;
  const View = stage in views ? views[stage as keyof typeof views] : views.brief;
  return (
    <WorkbenchProvider key={id} conversion={conversion.data}>
      <Box className="sheet" sx={{ display: 'flex', flexDirection: 'column', height: '100dvh' }}>
        <Box
          component="a"
          href="#stage"
          className="skip"
          onClick={(e) => {
            e.preventDefault();
            main.current?.focus();
          }}
        >
          To the stage
        </Box>
        <TopBar
          onHelp={() => {
            setHelp(true);
          }}
        />
        <ClaimsStrip />
        <Box sx={{ display: 'flex', flexDirection: { xs: 'column', sm: 'row' }, flex: 1, minHeight: 0 }}>
          <StageRail />
          <Box
            component="main"
            id="stage"
            ref={main}
            tabIndex={-1}
            sx={{
              flex: 1,
              minWidth: 0,
              overflow: 'auto',
              p: 2.5,
              position: 'relative',
              '&:focus-visible': { outline: 'none' },
            }}
          >
            <Boundary key={stage} what="This stage">
              <Suspense fallback={<Loading what="the stage" />}>
                <View />
              </Suspense>
            </Boundary>
          </Box>
        </Box>
      </Box>
      <FigureDrawer />
      <Shortcuts open={help} onOpen={setHelp} />
    </WorkbenchProvider>
  );
}
