/** The frame around every page. */
import { useState } from 'react';
import { Outlet } from 'react-router';
import { Banners } from './banners';
import { firstRow, focusPage, MAIN_ID } from './focus-page';
import { LastEvent } from './last-event';
import { LineRail } from './line-rail';
import { LineStrip } from './line-strip';
import { Notices } from './notices';
import { PadsDrawer } from './pads-drawer';
import { Palette } from './palette';
import { useShortcuts } from './shortcuts';
import { LearnElsewhere, LearnProvider } from '../mappings/learn-context';
import { useSayHere } from '../people/say-here';
import { SoundOfTheShow } from '../sound/sound-of-the-show';
import { TimeWritingProvider, WritingElsewhere } from '../time/writing';
import { useIsWide } from '../ui/use-media';
import { TopBar } from './top-bar';

export function Shell() {
  const isWide = useIsWide();
  const [pads, setPads] = useState(false);
  const [finding, setFinding] = useState(false);
  useShortcuts(() => setFinding(true));
  useSayHere();
  return (
    <LearnProvider>
      <TimeWritingProvider>
        <SoundOfTheShow />
        <div className="flex h-full flex-col">
          <a
            href={`#${MAIN_ID}`}
            className="sr-only z-50 rounded bg-raised px-4 py-2 text-tawny-2 focus:not-sr-only focus:absolute focus:top-2 focus:left-2"
            onClick={(event) => {
              event.preventDefault();
              focusPage();
            }}
          >
            Skip to the page
          </a>
          <TopBar pads={pads} setPads={setPads} />
          {!isWide && <LineStrip />}
          <Banners />
          <div className="flex min-h-0 flex-1 max-lg:flex-col">
            {isWide && <LineRail />}
            <main
              id={MAIN_ID}
              tabIndex={-1}
              className="min-h-0 min-w-0 flex-1 outline-none"
              onKeyDown={(event) => {
                if (event.key !== 'ArrowDown' || event.target !== event.currentTarget) return;
                event.preventDefault();
                firstRow()?.focus();
              }}
            >
              <div className="flex h-full flex-col">
                <LearnElsewhere />
                <WritingElsewhere />
                <div className="min-h-0 flex-1">
                  <Outlet />
                </div>
              </div>
            </main>
            {pads && <PadsDrawer close={() => setPads(false)} />}
          </div>
          <Notices />
          <LastEvent />
          <Palette open={finding} setOpen={setFinding} showPads={() => setPads(true)} />
        </div>
      </TimeWritingProvider>
    </LearnProvider>
  );
}
