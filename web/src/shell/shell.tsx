/** The frame around every page. */
import { useState } from 'react';
import { Outlet } from 'react-router';
import { Toaster } from 'sonner';
import { Banners } from './banners';
import { LastEvent } from './last-event';
import { LineRail } from './line-rail';
import { Palette } from './palette';
import { useShortcuts } from './shortcuts';
import { useTheme } from './theme';
import { TopBar } from './top-bar';

export function Shell() {
  const [finding, setFinding] = useState(false);
  const theme = useTheme();
  useShortcuts(() => setFinding(true));
  return (
    <div className="flex h-full min-w-245 flex-col">
      <TopBar />
      <Banners />
      <div className="flex min-h-0 flex-1">
        <LineRail />
        <main className="min-h-0 min-w-0 flex-1">
          <Outlet />
        </main>
      </div>
      <LastEvent />
      <Palette open={finding} setOpen={setFinding} />
      <Toaster theme={theme === 'dark' ? 'dark' : 'light'} position="bottom-right" offset={{ bottom: 52 }} />
    </div>
  );
}
