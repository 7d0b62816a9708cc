/** The show as it is read from three metres: the time of day, what is on and what is next, in letters as large as the screen allows. Nothing is sent from it. */
import { Link } from 'react-router';
import { callWords } from '@tawny-signal/core/cues/words';
import type { Show } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import { useLiveValue } from '../live/live';
import { progressOf, useNow, useOrder, type OrderNow } from '../order/use-order';
import { Timed } from '../order/timed';
import { useSayHere } from '../people/say-here';
import { clockTime, lengthWords } from '../prompt/clocks';
import { useShow } from '../show/show';
import { Button } from '../ui/button';
import { awakeWords, useAwake } from '../ui/use-awake';

const HUGE = 'font-mono font-bold leading-none tabular-nums text-[min(18vw,34vh)] portrait:text-[23vw]';
const LARGE = 'font-bold leading-[1.1] text-[min(6.6vw,11vh)] portrait:text-[11vw]';
const SMALL = 'text-[min(2.8vw,4.6vh)] leading-tight portrait:text-[5vw]';

export function AfarPage() {
  useSayHere();
  const show = useShow();
  const order = useOrder();
  const now = useNow(true);
  const performance = useLiveValue('desk', (store) => store.desk()?.performance ?? null);
  const last = order.called;
  return (
    <main aria-label="Seen from afar" className="flex h-full flex-col overflow-hidden px-[3vw] pt-[2vh]">
      <h1 className="sr-only">{show.settings.name}, seen from afar</h1>
      <Wrong />
      <div className="flex min-h-0 flex-1 flex-col justify-evenly gap-[1.5vh]">
        <header className="flex flex-wrap items-end justify-between gap-x-[2vw]">
          <p className={HUGE}>
            {clockTime(now).slice(0, 5)}
            <span className="text-[0.42em] text-ink-2">{clockTime(now).slice(5)}</span>
          </p>
          {performance && (
            <p className={`${SMALL} text-ink-2`}>
              since the start
              <span className="block font-mono pt-[0.5vh] text-[min(4.6vw,8vh)] leading-none font-bold text-ink tabular-nums portrait:text-[9vw]">
                {lengthWords(now - performance.begunAt)}
              </span>
            </p>
          )}
        </header>
        <On show={show} order={order} now={order.heldAt ?? now} sinceMs={last ? now - last.at : null} />
        <Next show={show} order={order} />
      </div>
      <Foot />
    </main>
  );
}

function Name({ moment, look }: { moment: Moment; look: string }) {
  return (
    <p className={`${LARGE} line-clamp-2 ${look}`}>
      <span className="font-mono">{moment.cue}</span> {moment.name}
    </p>
  );
}

interface OnProps {
  show: Show;
  order: OrderNow;
  now: number;
  sinceMs: number | null;
}

/** What runs, the one that was called last in large letters; if nothing does, what was called last. */
function On({ order, now, sinceMs }: OnProps) {
  const moment = order.moments.find(({ id }) => id === order.called?.id) ?? null;
  const run = order.running.find(({ id }) => id === order.called?.id);
  const others = order.running.length - (run ? 1 : 0);
  const progress = run && progressOf(run, now);
  return (
    <section aria-label="On">
      <p className={`${SMALL} flex flex-wrap justify-between gap-x-[3vw] text-ink-2`}>
        <span>{order.heldAt === null ? 'On' : 'Held'}</span>
        <span>
          {others > 0 && `${others} more running, `}
          {sinceMs === null ? '' : `called ${lengthWords(sinceMs)} ago`}
        </span>
      </p>
      {moment ? (
        <Name moment={moment} look="text-moss" />
      ) : (
        <p className={`${LARGE} text-ink-3`}>nothing yet</p>
      )}
      <div className={`${SMALL} flex h-[5vh] items-center gap-[2vw]`}>
        {progress && (
          <>
            <span className="h-[1.4vh] flex-1 bg-bark-2">
              <span className="block h-full bg-moss" style={{ width: `${progress.part * 100}%` }} />
            </span>
            <span className="font-mono tabular-nums">{progress.left.toFixed(1)} s</span>
          </>
        )}
        {run && !progress && 'sounds on'}
      </div>
    </section>
  );
}

function Next({ show, order: { next, known } }: { show: Show; order: OrderNow }) {
  return (
    <section aria-label="Next" className="border-t border-rule pt-[1.5vh]">
      <p className={`${SMALL} flex flex-wrap justify-between gap-x-[3vw] text-ink-2`}>
        <span>Next</span>
        {next && (
          <span>
            {next.timecode !== null && <Timed id={next.id} />}
            {callWords(next, show.layouts)}
          </span>
        )}
      </p>
      {next ? (
        <Name moment={next} look="text-tawny-2" />
      ) : (
        <p className={`${LARGE} text-ink-3`}>{known === 'unknown' ? '…' : 'nothing: it was the last one'}</p>
      )}
    </section>
  );
}

/** What is not as it should be, in one line that can be read from there. */
function Wrong() {
  const connected = useLiveValue('connection', (store) => store.connected());
  const desk = useLiveValue('desk', (store) => store.desk());
  const words = !connected
    ? 'No connection: this is old'
    : desk?.engine === false
      ? 'The engine is restarting'
      : desk?.armed === false
        ? 'Safe: nothing is sent'
        : null;
  return (
    <p role="status" aria-live="assertive" className={`${SMALL} font-semibold text-straw`}>
      {words}
    </p>
  );
}

function Foot() {
  const awake = awakeWords(useAwake());
  return (
    <footer className="flex flex-wrap items-center gap-x-4 py-1 text-sm text-ink-2">
      <Link
        to="/prompt"
        className="inline-flex min-h-11 items-center text-tawny-2 underline underline-offset-2"
      >
        Prompt desk
      </Link>
      {document.fullscreenEnabled && (
        <Button
          look="bare"
          className="h-11"
          onClick={() =>
            void (
              document.fullscreenElement
                ? document.exitFullscreen()
                : document.documentElement.requestFullscreen()
            ).catch(() => undefined)
          }
        >
          Whole screen
        </Button>
      )}
      {awake && <span className="text-straw">{awake}</span>}
    </footer>
  );
}
