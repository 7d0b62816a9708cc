/** The running order along time: each moment with a bar for everything that it sends, and where it is now. */
import { useMemo } from 'react';
import { Link } from 'react-router';
import { timelineOf, type TimeBar, type TimeRow } from '@tawny-signal/core/cues/timeline';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { OrderSeen } from '@tawny-signal/core/live/messages';
import { useShow } from '../show/show';
import { lineName } from '../traffic/words';
import { Empty, Page } from '../ui/page';
import { Tabs } from './tabs';
import { useNow, useOrder } from './use-order';

/** The width of a second, in pixels, unless the whole fits with more. */
const SECOND = 8;
const TICKS_S = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600];
/** The least room between two ticks, in pixels. */
const TICK_ROOM = 56;
const NAMES = '11rem';

const COLUMNS = `grid grid-cols-[8.5rem_minmax(0,1fr)] sm:grid-cols-[11rem_minmax(0,1fr)]`;

/** `1:05`, `25 s` */
function clock(seconds: number): string {
  if (seconds < 60) return `${seconds} s`;
  return `${Math.floor(seconds / 60)}:${String(Math.round(seconds % 60)).padStart(2, '0')}`;
}

export function TimePage() {
  const show = useShow();
  const order = useOrder();
  const rows = useMemo(() => timelineOf(show), [show]);
  const now = useNow(order.running.length > 0);
  const wholeMs = Math.max(10_000, ...rows.map(({ endMs }) => endMs)) * 1.04;
  const seconds = wholeMs / 1000;
  const tick = TICKS_S.find((one) => one * SECOND >= TICK_ROOM) ?? TICKS_S.at(-1)!;
  const ticks = Array.from({ length: Math.floor(seconds / tick) + 1 }, (_, at) => at * tick);
  return (
    <Page
      title="Running order"
      aside={
        <>
          <Tabs at="Along time" />
          <p className="text-sm text-ink-2">
            What is called by hand begins after what was before it: the time of Go is not known.
          </p>
        </>
      }
    >
      {rows.length === 0 ? (
        <Empty words="There are no moments yet. Add one on the sheet.">
          <Link to="/order" className="text-tawny-2 underline underline-offset-2">
            Open the sheet
          </Link>
        </Empty>
      ) : (
        <div
          tabIndex={0}
          role="region"
          aria-label="Moments along time"
          className="min-h-0 flex-1 overflow-auto border-t border-rule pb-6"
        >
          <div style={{ minWidth: `calc(${NAMES} + ${seconds * SECOND}px)` }}>
            <div className={`${COLUMNS} sticky top-0 z-10 bg-paper text-xs text-ink-2`}>
              <span className="sticky left-0 bg-paper py-1 pl-2">moment</span>
              <span className="relative h-6 font-mono">
                {ticks.map((at) => (
                  <span
                    key={at}
                    className="absolute top-1 border-l border-rule pl-1"
                    style={{ left: `${(at / seconds) * 100}%` }}
                  >
                    {clock(at)}
                  </span>
                ))}
              </span>
            </div>
            <ul>
              {rows.map((row) => (
                <Row
                  key={row.moment.id}
                  row={row}
                  wholeMs={wholeMs}
                  standsBy={order.standingBy === row.moment.id}
                  running={order.running.find(({ id }) => id === row.moment.id) ?? null}
                  now={order.heldAt ?? now}
                />
              ))}
            </ul>
          </div>
        </div>
      )}
    </Page>
  );
}

interface RowProps {
  row: TimeRow;
  wholeMs: number;
  standsBy: boolean;
  running: OrderSeen['running'][number] | null;
  /** Milliseconds since 1970. */
  now: number;
}

function Row({ row, wholeMs, standsBy, running, now }: RowProps) {
  const { moment, startMs, byHand, bars } = row;
  const at = (ms: number): string => `${(Math.min(ms, wholeMs) / wholeMs) * 100}%`;
  const follow = moment.follow;
  return (
    <li
      data-moment-time={moment.name}
      className={`${COLUMNS} border-t border-rule ${standsBy ? 'bg-bark' : ''}`}
    >
      <Link
        to={`/order/${moment.id}`}
        className={`sticky left-0 z-5 block border-l-3 bg-paper py-1.5 pr-2 pl-2 hover:bg-bark ${running ? 'border-l-moss' : standsBy ? 'border-l-tawny' : 'border-l-transparent'}`}
      >
        <span className="block font-semibold">{momentName(moment)}</span>
        <span className="block text-xs text-ink-2">
          {running ? (
            <span className="text-moss">running</span>
          ) : standsBy ? (
            <span className="text-tawny-2">standing by</span>
          ) : byHand ? (
            'Go'
          ) : (
            `follows ${follow!.ms / 1000} s after the ${follow!.after}`
          )}
        </span>
      </Link>
      <div className="relative min-h-11 py-1.5">
        <span
          aria-hidden
          className={`absolute inset-y-0 border-l ${byHand ? 'border-dashed border-straw' : 'border-ink-3'}`}
          style={{ left: at(startMs) }}
        />
        {running && (
          <span
            data-now
            aria-hidden
            className="absolute inset-y-0 z-1 border-l-2 border-moss"
            style={{ left: at(startMs + Math.max(0, now - running.since)) }}
          />
        )}
        {bars.map((bar, place) => (
          <Bar key={place} bar={bar} at={at} />
        ))}
        {bars.length === 0 && (
          <span className="absolute px-2 text-xs text-ink-2" style={{ left: at(startMs) }}>
            sends nothing
          </span>
        )}
      </div>
    </li>
  );
}

function Bar({ bar, at }: { bar: TimeBar; at: (ms: number) => string }) {
  const show = useShow();
  const { fromMs, toMs, endless, words } = bar;
  const line = bar.lineId === null ? 'This show' : lineName(show, bar.lineId);
  return (
    <div className="relative h-5 text-xs leading-5 whitespace-nowrap">
      <span
        aria-hidden
        className={`absolute inset-y-0.5 min-w-1 rounded-xs ${endless ? 'border border-r-0 border-dashed border-tawny bg-tawny/15' : 'border border-tawny bg-tawny/30'}`}
        style={
          endless
            ? { left: at(fromMs), right: 0 }
            : { left: at(fromMs), width: `calc(${at(toMs)} - ${at(fromMs)})` }
        }
      />
      <span className="absolute pl-2" style={{ left: at(fromMs) }}>
        <span className="font-semibold">{line}</span> <span className="font-mono">{words}</span>
      </span>
    </div>
  );
}
