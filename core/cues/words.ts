/** Moments in words: the cells of the running order. */
import { COMMAND_WORDS } from '../midi/show-control.js';
import { layoutControlOf } from '../layout/layout.js';
import { argsWords, hearTitle, sendTitle } from '../mapping/words.js';
import type { MiddleC } from '../midi/words.js';
import type { Layout } from '../show/layout.js';
import type { Moment, MomentSend } from '../show/moment.js';
import type { Send } from '../show/send.js';
import { writeLevels } from '../typed/levels.js';

export const seconds = (ms: number): string => `${Number((ms / 1000).toFixed(2))} s`;

/** The line that a cell is of; null for what is done to the show itself. */
export const lineOfSend = (given: MomentSend): string | null =>
  given.kind === 'levels' ? given.lineId : given.send.lineId;

const number = (value: number): string => String(Number(value.toFixed(4)));

function valueWords(send: Send, value: number, middleC: MiddleC): string {
  const title = sendTitle(send, middleC);
  switch (send.kind) {
    case 'note':
      return value === 0 ? `${title} off` : `${title} ch ${send.channel + 1}`;
    case 'osc': {
      const shaped = send.args.some((arg) => 'value' in arg && arg.value === 'shaped');
      return shaped
        ? `${title} ${number(value)}`
        : `${title}${send.args.length > 0 ? ` ${argsWords(send.args)}` : ''}`;
    }
    case 'control':
    case 'control14':
    case 'parameter':
    case 'bend':
    case 'program':
    case 'slot':
      return `${title} = ${number(value)}`;
    case 'showControl':
      return `${COMMAND_WORDS[send.command]}${send.cue && ` ${send.cue}`}`;
    default:
      return title;
  }
}

/** `1–12 at 50 %`, `/fog/density 0.7`, `note 28 (E1) off` */
export const momentSendTitle = (given: MomentSend, middleC: MiddleC): string =>
  given.kind === 'levels' ? writeLevels(given.levels) : valueWords(given.send, given.value, middleC);

/** `fade 4 s · after 0.5 s`; empty for what leaves at once. */
export function momentSendDetail(given: MomentSend): string {
  const delayMs = given.kind === 'levels' ? given.delayMs : given.send.delayMs;
  const lengthMs = given.kind === 'send' && given.send.kind === 'note' ? given.send.lengthMs : null;
  return [
    given.fadeMs > 0 && `fade ${seconds(given.fadeMs)}`,
    lengthMs !== null && `for ${seconds(lengthMs)}`,
    delayMs > 0 && `after ${seconds(delayMs)}`,
  ]
    .filter(Boolean)
    .join(' · ');
}

/** How it is called: `Go by hand`, `Follows after 12 s, Note 51 pressed`. */
export function callWords({ follow, callers, parked }: Moment, layouts: readonly Layout[] = []): string {
  if (parked) return 'Parked';
  const own = follow
    ? `Follows ${seconds(follow.ms)} after the ${follow.after} of the one before`
    : callers.length === 0
      ? 'Go by hand'
      : 'Go';
  const calling = callers.map((hear) => layoutControlOf(layouts, hear)?.name ?? hearTitle(hear));
  return [own, ...calling].join(', or ');
}

export const momentName = ({ cue, name }: Moment): string => (name ? `${cue} · ${name}` : cue);
