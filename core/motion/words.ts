/** Says what motions are in words. */
import { usesOf } from '../uses/rows.js';
import { mappingName } from '../mapping/words.js';
import type { Motion } from '../show/motion.js';
import type { Send } from '../sends.js';
import { MOTION_ACT_WORDS } from '../sends/motion.js';
import type { Show } from '../show.js';
import { writeRate } from '../typed/rate.js';
import type { MotionSendAct } from './acts.js';
import { MAKES } from './makes.js';

/** `sine`, `attack 50 ms, release 0.8 s` */
export const makeTitle = ({ makes }: Motion): string => MAKES[makes.kind].title(makes);

/** What moves it: `every 4 s`, `each 2 beats`, `stepped`; empty for what has times of its own. */
export function driveWords({ makes, drive }: Motion): string {
  const { cycles, cycle } = MAKES[makes.kind];
  if (!cycles) return '';
  return drive.by === 'steps'
    ? 'stepped'
    : `${cycle === 'step' ? 'a step each' : 'every'} ${writeRate(drive)}`;
}

/** `from 01:00:15:00 to 01:00:30:00` */
const placeWords = ({ from, until }: Motion['place']): string =>
  from === null ? 'at no place yet' : until === null ? `from ${from} on` : `from ${from} to ${until}`;

/** What begins it: `always`, `bank Storm glass`, `by Kick`, or that nothing does. */
export function beginWords({ begins, place, bankId, id }: Motion, show: Show): string {
  const bank = show.banks.find((one) => one.id === bankId);
  const withBank = bank ? `with bank ${bank.name}` : '';
  if (begins === 'always') return bank ? withBank : 'always';
  if (begins === 'position') return [placeWords(place), withBank].filter(Boolean).join(', ');
  const uses = usesOf(show, 'motions', id);
  const names = [
    ...uses.mappings.map(mappingName),
    ...uses.moments.map(({ cue }) => `cue ${cue}`),
    ...uses.motions.map(({ name }) => name),
  ];
  if (names.length === 0) return 'nothing starts it yet';
  const who = names.length > 2 ? `${names[0]!} and ${names.length - 1} more` : names.join(' and ');
  return [`by ${who}`, withBank].filter(Boolean).join(', ');
}

/** Why a motion does not run, whoever starts it; null if it could. */
export function offWords({ on, bankId }: Motion, show: Pick<Show, 'banks'>): string | null {
  if (!on) return 'Switched off';
  const bank = show.banks.find(({ id }) => id === bankId);
  return bank && !bank.on ? `Bank ${bank.name} is off` : null;
}

/** What begins a voice of its own where a motion has several. */
const BEGINS: ReadonlySet<MotionSendAct> = new Set<MotionSendAct>(['press', 'start', 'toggle']);

/** What a send did to a motion. */
export interface MovedMotion {
  /** Null if it is not there. */
  id: string | null;
  /** `Lens turns: start, or trigger again` */
  words: string;
  /** Why nothing came of it; null if something could. */
  nothing: string | null;
}

/** What a mapping, a moment or a motion does to motions. */
export function movedMotions(sends: readonly Send[], show: Show): MovedMotion[] {
  return sends.flatMap((send): MovedMotion[] => {
    if (send.kind !== 'motion') return [];
    const motion = show.motions.find(({ id }) => id === send.motionId);
    if (!motion) return [{ id: null, words: 'A motion', nothing: 'it is not there: choose another' }];
    const off = offWords(motion, show);
    const nothing = !motion.on
      ? 'it is switched off'
      : (off?.replace('Bank', 'bank') ?? (motion.sends.length === 0 ? 'it sends nothing yet' : null));
    const own = motion.voices > 1 && BEGINS.has(send.act) ? ', in a voice of its own' : '';
    return [{ id: motion.id, words: `${motion.name}: ${MOTION_ACT_WORDS[send.act]}${own}`, nothing }];
  });
}
