/** Says what motions are in words. */
import { usesOf } from '../uses/rows.js';
import { mappingName } from '../mapping/words.js';
import type { Motion } from '../show/motion.js';
import type { Show } from '../show.js';
import { writeRate } from '../typed/rate.js';
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

/** What begins it: `always`, `bank Storm glass`, `by Kick`, or that nothing does. */
export function beginWords({ begins, bankId, id }: Motion, show: Show): string {
  const bank = show.banks.find((one) => one.id === bankId);
  const withBank = bank ? `with bank ${bank.name}` : '';
  if (begins === 'always') return bank ? withBank : 'always';
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
