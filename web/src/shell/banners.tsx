/** Banners for what is wrong with the whole program, until it is right again. */
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useLiveValue } from '../live/live';
import { serverNow } from '../live/server-clock';
import { useShow } from '../show/show';
import { lineName } from '../traffic/words';
import { notify } from '../ui/notice';

export function Banners() {
  const connected = useLiveValue('connection', (store) => store.connected());
  const desk = useLiveValue('desk', (store) => store.desk());
  const cut = Object.keys(useLiveValue('routes', (store) => store.cutRoutes()));
  const { moments } = useShow();
  const callsOff = useLiveValue('transport', (store) => store.transport()?.position.callsOn === false);
  const restarts = desk?.engineRestarts ?? 0;
  const known = useRef<number | null>(null);

  useEffect(() => {
    if (!desk) return;
    if (known.current !== null && restarts > known.current) {
      notify('The engine stopped and was restarted with the show it had. Signals go on.', {
        look: 'warning',
      });
    }
    known.current = restarts;
  }, [desk, restarts]);

  return (
    <div role="status" aria-live="assertive">
      {!connected && <CutOff />}
      {connected && desk?.saving === false && (
        <Banner
          words={`Nothing is being saved: ${desk.savingTrouble}. Signals go on; edit again once saving works.`}
        />
      )}
      {connected && desk?.engine === false && (
        <Banner words="The engine is restarting: signals go on in a moment. Go and tries do nothing until then; Panic is done first." />
      )}
      {connected && cut.length > 0 && <CutBanner routes={cut} />}
      {connected && desk?.armed === false && (
        <Banner quiet words="Safe: everything is heard and shown, nothing is sent." />
      )}
      {connected && callsOff && moments.some(({ timecode }) => timecode !== null) && (
        <Banner
          quiet
          words="Calls by timecode are off: moments are called by hand only. The Time place switches them on."
        />
      )}
    </div>
  );
}

const TIME = new Intl.DateTimeFormat('en-GB', { timeStyle: 'medium' });

/** Says since when the page is cut off. It is shown from the instant in which that was seen. */
function CutOff() {
  const [since] = useState(() => serverNow());
  return (
    <Banner
      words={`No connection to the server since ${TIME.format(since)}: what you see was known then. Reconnecting every half second; the pads and MIDI ports of this page are not heard until then.`}
    />
  );
}

/** The banner of routes that were cut, until somebody has looked at them. */
function CutBanner({ routes }: { routes: string[] }) {
  const show = useShow();
  const words = routes.map((id) => {
    const route = show.routes.find((candidate) => candidate.id === id);
    return route ? `${lineName(show, route.fromId ?? '')} → ${lineName(show, route.toId ?? '')}` : 'a route';
  });
  return (
    <p className="flex items-center gap-3 border-b border-brick bg-bark px-3.5 py-1 text-sm font-semibold text-brick">
      <span>Loop stopped: what {words.join(' and ')} sent came back in. Everything else goes on.</span>
      <Link
        to={`/lines/routes/${routes[0]}`}
        className="inline-flex min-h-8 items-center text-tawny-2 underline underline-offset-2"
      >
        Open the route
      </Link>
    </p>
  );
}

function Banner({ words, quiet = false }: { words: string; quiet?: boolean }) {
  const look = quiet ? 'border-straw text-straw' : 'border-brick text-brick';
  return <p className={`border-b bg-bark px-3.5 py-1.5 text-sm font-semibold ${look}`}>{words}</p>;
}
