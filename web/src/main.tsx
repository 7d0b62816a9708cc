import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { LiveProvider } from './live/live';
import { Gate } from './people/gate';
import { askWho } from './people/me';
import { BARE_ROUTES, loadAllPages, PAGE_ROUTES } from './pages';
import { Home } from './shell/home';
import { Lost } from './shell/lost';
import { Shell } from './shell/shell';
import './ui/csp-nonce';
import './styles.css';

const queries = new QueryClient({
  // The live connection reports changes. A query that fails at the start is tried until it works.
  defaultOptions: { queries: { staleTime: Infinity, retry: true, retryDelay: 500, networkMode: 'always' } },
});

const OPENING = <p className="p-6 text-ink-2">Opening the show …</p>;

const router = createBrowserRouter([
  ...BARE_ROUTES.map((route) => ({
    ...route,
    path: `/${route.path}`,
    hydrateFallbackElement: OPENING,
    errorElement: <Lost />,
  })),
  {
    path: '/',
    element: <Shell />,
    hydrateFallbackElement: OPENING,
    errorElement: <Lost />,
    children: [{ index: true, element: <Home /> }, ...PAGE_ROUTES, { path: '*', element: <Lost /> }],
  },
]);

void askWho();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Gate>
        <LiveProvider>
          <Suspense fallback={OPENING}>
            <RouterProvider router={router} />
          </Suspense>
        </LiveProvider>
      </Gate>
    </QueryClientProvider>
  </StrictMode>,
);

addEventListener('load', () => setTimeout(() => void loadAllPages(), 1000));
