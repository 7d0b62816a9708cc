/** Banners for what is wrong with the whole program, until it is right again. */
import { useEffect, useRef } from 'react';
import { toast } from 'sonner';
import { Link } from 'react-router';
import { useLiveValue } from '../live/live';
import { useShow } from '../show/show';
import { lineName } from '../traffic/words';

export function Banners() {
  const connected = useLiveValue('connection', (store) => store.connected());
  const desk = useLiveValue('desk', (store) => store.desk());
  const cut = Object.keys(useLiveValue('routes', (store) => store.cutRoutes()));
  const restarts = desk?.engineRestarts ?? 0;
  const known = useRef<number | null>(null);

  useEffect(() => {
    if (!desk) return;
    if (known.current !== null && restarts > known.current) {
      toast.warning('The engine stopped and was started again with the show it had. Signals go on.');
    }
    known.current = restarts;
  }, [desk, restarts]);

  return (
    <div role="status" aria-live="assertive">
      {!connected && (
        <Banner words="No connection to the server. It is tried again every half second; signals that need this page are not heard meanwhile." />
      )}
      {connected && desk?.saving === false && (
        <Banner
          words={`Nothing is being saved: ${desk.savingTrouble}. Signals go on; changes can be made again when it is well.`}
        />
      )}
      {connected && desk?.engine === false && (
        <Banner words="The engine is being started again: signals go on in a moment. Nothing is called or sent by hand until then; Panic is kept, and done first." />
      )}
      {connected && cut.length > 0 && <CutBanner routes={cut} />}
      {connected && desk?.armed === false && (
        <Banner quiet words="The show is safe: everything is heard and shown, nothing goes out." />
      )}
    </div>
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
      <span>A loop was cut: what {words.join(' and ')} sent came back in. Everything else goes on.</span>
      <Link
        to={`/lines/routes/${routes[0]}`}
        className="inline-flex min-h-8 items-center text-tawny-2 underline underline-offset-2"
      >
        Look, and restore
      </Link>
    </p>
  );
}

function Banner({ words, quiet = false }: { words: string; quiet?: boolean }) {
  const look = quiet ? 'border-straw text-straw' : 'border-brick text-brick';
  return <p className={`border-b bg-bark px-3.5 py-1.5 text-sm font-semibold ${look}`}>{words}</p>;
}
