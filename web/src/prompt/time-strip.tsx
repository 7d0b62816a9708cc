/** A strip of time around now: moments that run, moments that will call themselves, and what would follow if the next one were called now. */
import { useMemo } from 'react';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { planMoment } from '@tawny-signal/core/cues/plan';
import type { Show } from '@tawny-signal/core/show';
import type { OrderNow } from '../order/use-order';
import { useTempo } from '../live/tempo';
import { lengthAt } from '@tawny-signal/core/time/span';

/** Seconds before and after now that are shown. */
const BEFORE = 10;
const AFTER = 40;
const WHOLE = BEFORE + AFTER;
const TICKS = [-10, 0, 10, 20, 30];
const ROW = 20;
const MOST_ROWS = 6;

interface Span {
  key: string;
  words: string;
  /** Seconds from now. */
  from: number;
  to: number;
  sort: 'runs' | 'follows' | 'would follow';
}

interface TimeStripProps {
  show: Show;
  order: OrderNow;
  /** Milliseconds since 1970. */
  now: number;
}

/** The moment after the next one, if it calls itself: when, counted from a Go now. */
function wouldFollow(
  { moments, groups, looks, midiFiles }: Show,
  next: OrderNow['next'],
  bpm: number,
): Span | null {
  if (!next) return null;
  const after = moments.slice(moments.indexOf(next) + 1).find(({ parked }) => !parked);
  if (!after?.follow) return null;
  const plan = planMoment(next, { groups, looks, midiFiles });
  const start =
    (lengthAt(after.follow, bpm) + (after.follow.after === 'end' ? plan.lengthMs(bpm) : 0)) / 1000;
  const words = `${momentName(after)}, ${Number(start.toFixed(1))} s after Go`;
  return { key: 'would follow', words, from: start, to: start, sort: 'would follow' };
}

function spansOf(show: Show, order: OrderNow, then: Span | null, now: number): Span[] {
  const nameOf = (id: string): string => {
    const moment = show.moments.find((one) => one.id === id);
    return moment ? momentName(moment) : '';
  };
  const runs = order.running.map(({ id, since, endsAt, soundsOn }): Span => {
    const left = (endsAt - now) / 1000;
    const words = left > 0 ? `${nameOf(id)} · ${left.toFixed(1)} s left` : `${nameOf(id)} · sounds on`;
    return { key: id, words, from: (since - now) / 1000, to: soundsOn ? AFTER : left, sort: 'runs' };
  });
  const follows = order.following.map(({ id, at }): Span => {
    const start = (at - now) / 1000;
    const words = `${nameOf(id)} follows in ${Math.max(0, start).toFixed(1)} s`;
    return { key: `follows ${id}`, words, from: start, to: start, sort: 'follows' };
  });
  return [...runs, ...follows, ...(then ? [then] : [])].slice(0, MOST_ROWS);
}

const COLOURS: Record<Span['sort'], string> = {
  runs: 'bg-moss/70',
  follows: 'bg-tawny',
  'would follow': 'border border-dashed border-straw',
};

export function TimeStrip({ show, order, now }: TimeStripProps) {
  const { next } = order;
  const bpm = useTempo();
  const then = useMemo(() => wouldFollow(show, next, bpm), [show, next, bpm]);
  const spans = spansOf(show, order, then, now);
  const at = (seconds: number): number => (Math.max(0, Math.min(WHOLE, seconds + BEFORE)) / WHOLE) * 100;
  return (
    <div
      role="img"
      aria-label={`Time: ${spans.map(({ words }) => words).join('; ') || 'nothing running'}`}
      className="relative overflow-hidden bg-raised text-xs"
      style={{ height: Math.max(2, spans.length) * ROW + 24 }}
    >
      {TICKS.map((tick) => (
        <span
          key={tick}
          className={`absolute inset-y-0 border-l ${tick === 0 ? 'border-tawny' : 'border-rule'}`}
          style={{ left: `${at(tick)}%` }}
        >
          <span className="absolute bottom-0.5 left-1 font-mono whitespace-nowrap text-ink-2">
            {tick === 0 ? 'now' : `${tick > 0 ? '+' : '−'}${Math.abs(tick)} s`}
          </span>
        </span>
      ))}
      {spans.map((span, row) => {
        const left = at(span.from);
        const right = at(span.to);
        const isLate = left > 55;
        return (
          <span key={span.key} className="absolute inset-x-0" style={{ top: row * ROW + 4, height: ROW - 5 }}>
            <span
              className={`absolute inset-y-0 ${COLOURS[span.sort]}`}
              style={{ left: `${left}%`, width: `max(0.4rem, ${right - left}%)` }}
            />
            <span
              className={`absolute truncate px-1.5 ${span.sort === 'runs' ? 'text-ink' : 'text-straw'}`}
              style={
                isLate
                  ? { right: `${100 - left}%` }
                  : { left: `calc(${left}% + 0.4rem)`, maxWidth: `${100 - left}%` }
              }
            >
              {span.words}
            </span>
          </span>
        );
      })}
    </div>
  );
}
