import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { LayoutsPage } from './layouts/layouts-page';
import { LinesPage } from './lines/lines-page';
import { LiveProvider } from './live/live';
import { MappingsPage } from './mappings/mappings-page';
import { Lost } from './shell/lost';
import { FilesPage } from './order/files-page';
import { LooksPage } from './order/looks-page';
import { OrderPage } from './order/order-page';
import { LogPage } from './prompt/log-page';
import { PromptPage } from './prompt/prompt-page';
import { PreflightPage } from './preflight/preflight-page';
import { RoutesPage } from './routes/routes-page';
import { Shell } from './shell/shell';
import { StandInsPage } from './stand-ins/stand-ins-page';
import './styles.css';
import { ControlPage } from './traffic/control-page';
import { KeyboardPage } from './traffic/keyboard-page';
import { TrafficPage } from './traffic/traffic-page';

const queries = new QueryClient({
  // The live connection says when something changed; a query that fails at the start is tried until it works.
  defaultOptions: { queries: { staleTime: Infinity, retry: true, retryDelay: 500, networkMode: 'always' } },
});

const router = createBrowserRouter([
  {
    path: '/',
    element: <Shell />,
    errorElement: <Lost />,
    children: [
      { index: true, element: <Navigate to="/mappings" replace /> },
      { path: 'lines/:lineId?', element: <LinesPage /> },
      { path: 'mappings/layouts/:layoutId?', element: <LayoutsPage /> },
      { path: 'mappings/preflight', element: <PreflightPage /> },
      { path: 'mappings/:mappingId?', element: <MappingsPage /> },
      { path: 'lines/routes/:routeId?', element: <RoutesPage /> },
      { path: 'order/looks', element: <LooksPage /> },
      { path: 'order/files', element: <FilesPage /> },
      { path: 'order/:momentId?', element: <OrderPage /> },
      { path: 'prompt', element: <PromptPage /> },
      { path: 'prompt/log/:performanceId?', element: <LogPage /> },
      { path: 'traffic', element: <TrafficPage /> },
      { path: 'traffic/keyboard', element: <KeyboardPage /> },
      { path: 'traffic/control/:lineId?/:control?', element: <ControlPage /> },
      { path: 'stand-ins/:standIn?', element: <StandInsPage /> },
      { path: '*', element: <Lost /> },
    ],
  },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <LiveProvider>
        <Suspense fallback={<p className="p-6 text-ink-2">Opening the show …</p>}>
          <RouterProvider router={router} />
        </Suspense>
      </LiveProvider>
    </QueryClientProvider>
  </StrictMode>,
);
