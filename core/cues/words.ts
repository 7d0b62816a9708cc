/** Moments in words: the cells of the running order. */
import { controlName } from '../layout/control-name.js';
import { hearTitle } from '../hears.js';
import { SENDS, saidSend } from '../sends.js';
import type { Layout } from '../show/layout.js';
import type { Moment, MomentSend, MomentSendOf } from '../show/moment.js';
import type { Show } from '../show.js';
import { writeLevels } from '../typed/levels.js';
import { isNone, type Span } from '../time/span.js';
import { spanWords } from '../typed/span.js';
import { delayOf, fadeOf } from './expand.js';

export const seconds = (ms: number): string => `${Number((ms / 1000).toFixed(2))} s`;

/** A span with seconds: `4 s`, `2 beats`. */
export const spanIn = (span: Span): string => (span.beats === null ? seconds(span.ms) : spanWords(span));

/** `after 0.5 s`, `on the next beat` */
export const afterWords = (delay: Span): string =>
  delay.beats?.beats === 0 ? `on the ${spanWords(delay)}` : `after ${spanIn(delay)}`;

/** The line that a cell is of; null for what is done to the show itself. */
export const lineOfSend = (given: MomentSend): string | null =>
  given.kind === 'send' ? given.send.lineId : given.lineId;

/** What the cells name. */
export type Named = Pick<
  Show,
  'settings' | 'moments' | 'groups' | 'looks' | 'midiFiles' | 'banks' | 'motions'
>;

const number = (value: number): string => String(Number(value.toFixed(4)));

/** `1–12 at 50 %`, `/fog/density 0.7`, `note 28 (E1) off`, `look Deck warm` */
export function momentSendTitle(given: MomentSend, named: Named): string {
  switch (given.kind) {
    case 'levels':
      return writeLevels(given.levels, named.groups);
    case 'look':
      return `look ${named.looks.find(({ id }) => id === given.lookId)?.name ?? '(removed)'}`;
    case 'file':
      return named.midiFiles.find(({ id }) => id === given.fileId)?.name ?? 'MIDI file (removed)';
    case 'send':
      return saidSend(given.send, given.value, named);
  }
}

function fileDetail({ times, tracks, bpm }: MomentSendOf<'file'>): string[] {
  return [
    times === 0 ? 'until stopped' : times > 1 ? `${times} times` : '',
    tracks === 'all'
      ? ''
      : `track${tracks.length > 1 ? 's' : ''} ${tracks.map((track) => track + 1).join(', ')}`,
    bpm === null ? '' : `${number(bpm)} bpm`,
  ];
}

/** `fade 4 s · after 0.5 s`; empty for what leaves at once. */
export function momentSendDetail(given: MomentSend): string {
  const delay = delayOf(given);
  const fade = fadeOf(given);
  const length = given.kind === 'send' && given.send.kind === 'note' ? SENDS.note.length!(given.send) : null;
  return [
    ...(given.kind === 'file' ? fileDetail(given) : [!isNone(fade) && `fade ${spanIn(fade)}`]),
    length && `for ${spanIn(length)}`,
    !isNone(delay) && afterWords(delay),
  ]
    .filter(Boolean)
    .join(' · ');
}

/** How it is called: `Go`, `Follows after 12 s, Note 51 pressed`. */
export function callWords(
  { follow, callOn, callers, parked, timecode, timecodeOn }: Moment,
  layouts: readonly Layout[] = [],
): string {
  if (parked) return 'Parked';
  const own = follow
    ? `Follows ${follow.beats?.beats === 0 ? 'on the ' : ''}${spanIn(follow)} after the previous moment ${follow.after === 'start' ? 'starts' : 'ends'}`
    : callOn === 'now'
      ? 'Go'
      : `Go, on the next ${callOn}`;
  const calling = callers.map((hear) => controlName(layouts, hear) || hearTitle(hear));
  return [own, ...calling, ...(timecode === null || !timecodeOn ? [] : [`timecode ${timecode}`])].join(
    ', or ',
  );
}
