import { CssBaseline, ThemeProvider } from '@mui/material';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { Redirect, Route, Switch } from 'wouter';
import { Refusal } from './api/client';
import { Boundary } from './common/Boundary';
import { Loading } from './common/States';
import { keepPressesStill } from './common/stillPress';
import { theme } from './theme';
import { openTab } from './workbench/kept';

const ConversionList = lazy(() => import('./stages/list/ConversionList'));
const LibraryPage = lazy(() => import('./stages/library/LibraryPage'));
const WorkbenchPage = lazy(() => import('./shell/WorkbenchPage'));

const client = new QueryClient({
  defaultOptions: {
    queries: {
      // A refusal stays one; only a service that is away is asked again.
      retry: (count, error) => !(error instanceof Refusal) && count < 3,
      refetchOnWindowFocus: false,
      networkMode: 'always',
    },
  },
});

const workbench = (
  <Suspense fallback={<Loading what="the workbench" />}>
    <WorkbenchPage />
  </Suspense>
);

const routes = (
  <Switch>
    <Route path="/">
      <Suspense fallback={<Loading what="the list" />}>
        <ConversionList />
      </Suspense>
    </Route>
    <Route path="/library">
      <Suspense fallback={<Loading what="the library" />}>
        <LibraryPage />
      </Suspense>
    </Route>
    <Route path="/c/:id">{({ id }) => <Redirect to={`/c/${id}/brief`} replace />}</Route>
    <Route path="/c/:id/:stage/:label?">{workbench}</Route>
    <Route>
      <Redirect to="/" replace />
    </Route>
  </Switch>
);

keepPressesStill(window);
const root = document.getElementById('root');
if (root) {
  // Whatever a browser refuses here, the page is shown.
  await openTab().catch(() => undefined);
  createRoot(root).render(
    <StrictMode>
      <ThemeProvider theme={theme} defaultMode="system">
        <CssBaseline />
        <QueryClientProvider client={client}>
          <Boundary what="The page">{routes}</Boundary>
        </QueryClientProvider>
      </ThemeProvider>
    </StrictMode>,
  );
}
