/** The rules that read motions: what nothing starts, sends nowhere, moves nothing, or asks a slow line for more than it carries. */
import { mappingName } from '../mapping/words.js';
import { MAKES } from '../motion/makes.js';
import { readPlace } from '../motion/places.js';
import { valuesOf } from '../motion/makes/table.js';
import { motionRing, ringWords } from '../motion/rings.js';
import { FIVE_PIN_BYTES } from '../show/line.js';
import type { Motion } from '../show/motion.js';
import type { Show } from '../show.js';
import { SENDS, type Send } from '../sends.js';
import type { Finding, Place } from './finding.js';

const placeOf = ({ id, name }: Motion): Place => ({ table: 'motions', id, name });
const finding = (rule: string, weight: Finding['weight'], words: string, motion: Motion): Finding => ({
  rule,
  weight,
  words,
  places: [placeOf(motion)],
});

/** Everything in the show that sends to motions. */
const motionSends = (show: Show): Extract<Send, { kind: 'motion' }>[] =>
  [
    ...show.mappings.filter(({ on }) => on).flatMap(({ sends }) => sends),
    ...show.motions.filter(({ on }) => on).flatMap(({ sends }) => sends),
    ...show.moments.flatMap(({ sends }) => sends.flatMap((one) => (one.kind === 'send' ? [one.send] : []))),
  ].flatMap((send) => (send.kind === 'motion' ? [send] : []));

/** What has to be there for a motion to do something. */
function idle(show: Show): Finding[] {
  const sends = motionSends(show);
  return show.motions
    .filter(({ on }) => on)
    .flatMap((motion): Finding[] => {
      const { id, name, makes, drive, begins } = motion;
      const asked = sends.filter(({ motionId }) => motionId === id).map(({ act }) => act);
      const found: Finding[] = [];
      const steps = MAKES[makes.kind].cycles && drive.by === 'steps';
      if (steps && !asked.includes('next') && !asked.includes('back'))
        found.push(
          finding(
            'a motion that nothing steps',
            'warning',
            `${name} only goes on when it is stepped, and nothing steps it.`,
            motion,
          ),
        );
      else if (
        begins === 'asked' &&
        !asked.some((act) => ['press', 'start', 'toggle', 'next', 'back'].includes(act))
      )
        found.push(
          finding(
            'a motion that nothing starts',
            'warning',
            `${name} waits to be started, and nothing starts it.`,
            motion,
          ),
        );
      if (begins === 'position' && readPlace(motion, show.settings.timecode.frameRate) === null)
        found.push(
          finding(
            'a motion without a place',
            'fault',
            motion.place.from === null
              ? `${name} is begun by the position, and has no place: write where it runs.`
              : `${name} never runs: its place ends before it begins, or is no timecode at the frame rate of the show.`,
            motion,
          ),
        );
      if (motion.sends.length === 0 && !isTaken(show, id))
        found.push(finding('a motion that sends nothing', 'warning', `${name} sends nothing yet.`, motion));
      if (makes.kind === 'table' && valuesOf(makes).length === 0)
        found.push(
          finding(
            'a table without numbers',
            'fault',
            `${name} has no numbers: import a file, or type some.`,
            motion,
          ),
        );
      return found;
    });
}

/** A mapping that never hears the release of what it presses. */
function neverLetGo(show: Show): Finding[] {
  return show.mappings.flatMap((mapping): Finding[] => {
    const { on, hear, sends } = mapping;
    if (!on || (hear.message !== 'pressed' && hear.message !== 'keyPressed')) return [];
    const held = sends.find((send) => send.kind === 'motion' && send.act === 'press');
    if (!held) return [];
    const name = mappingName(mapping);
    return [
      {
        rule: 'a motion that is never let go',
        weight: 'fault',
        words: `${name} runs a motion while it is held, but never hears the release: hear the note held, or let it start the motion.`,
        places: [{ table: 'mappings', id: mapping.id, name }],
      },
    ];
  });
}

/** Whether another motion holds its value. */
const isTaken = ({ motions }: Show, id: string): boolean =>
  motions.some(
    ({ makes }) => makes.kind === 'hold' && makes.of.what === 'motion' && makes.of.motionId === id,
  );

function missing(show: Show): Finding[] {
  const lines = new Set(show.lines.map(({ id }) => id));
  const banks = new Set(show.banks.map(({ id }) => id));
  const ids = new Set(show.motions.map(({ id }) => id));
  return show.motions
    .filter(({ on }) => on)
    .flatMap((motion): Finding[] => {
      const nowhere = motion.sends.find(
        (send) => SENDS[send.kind].protocol !== null && (send.lineId === null || !lines.has(send.lineId)),
      );
      const lost = motion.sends.some(
        (send) => send.kind === 'motion' && (send.motionId === null || !ids.has(send.motionId)),
      );
      return [
        ...(nowhere
          ? [
              finding(
                'a send without a line',
                'fault',
                `${motion.name} sends on a line that is not there.`,
                motion,
              ),
            ]
          : []),
        ...(lost
          ? [
              finding(
                'a send without a motion',
                'fault',
                `${motion.name} moves a motion that is not there.`,
                motion,
              ),
            ]
          : []),
        ...(motion.bankId !== null && !banks.has(motion.bankId)
          ? [
              finding(
                'a bank that is never on',
                'fault',
                `${motion.name} runs while a bank is on that is not there.`,
                motion,
              ),
            ]
          : []),
      ];
    });
}

function rings({ motions }: Show): Finding[] {
  return motions.flatMap((motion): Finding[] => {
    const ring = motionRing(motions, motion);
    // Each ring is told once, at its first motion.
    if (!ring || ring.some((one) => motions.indexOf(one) < motions.indexOf(motion))) return [];
    return [
      { rule: 'motions in a ring', weight: 'fault', words: ringWords(ring), places: ring.map(placeOf) },
    ];
  });
}

const MESSAGE_BYTES = 3;
const OFTEN = 50;

/** What motions that can run at once ask of a 5-pin cable at most. */
function tooMuchForACable(show: Show): Finding[] {
  return show.lines.flatMap((line): Finding[] => {
    if (!('fivePin' in line) || !line.fivePin) return [];
    const asking = show.motions.filter(
      ({ on, sends }) => on && sends.some(({ lineId, kind }) => lineId === line.id && kind !== 'note'),
    );
    const bytes = asking.reduce(
      (sum, { sends, perSecond, voices, begins }) =>
        sum +
        sends.filter(({ lineId }) => lineId === line.id).length *
          (perSecond ?? OFTEN) *
          MESSAGE_BYTES *
          (begins === 'asked' ? voices : 1),
      0,
    );
    if (bytes <= FIVE_PIN_BYTES) return [];
    const words = `Motions can ask for ${bytes.toLocaleString('en-GB')} bytes a second on ${line.name}; a 5-pin cable carries ${FIVE_PIN_BYTES.toLocaleString('en-GB')}. They will be sent less often.`;
    return [
      {
        rule: 'motions too fast for a 5-pin cable',
        weight: 'warning',
        words,
        places: [{ table: 'lines', id: line.id, name: line.name }, ...asking.map(placeOf)],
      },
    ];
  });
}

export const MOTION_RULES: ((show: Show) => Finding[])[] = [
  idle,
  neverLetGo,
  missing,
  rings,
  tooMuchForACable,
];
