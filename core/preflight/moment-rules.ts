/** The rules that read the running order. */
import { sharedCallers } from '../cues/callers.js';
import { ringOf } from '../cues/rings.js';
import { lineOfSend } from '../cues/words.js';
import { momentName } from '../show/moment-name.js';
import { SENDS } from '../sends.js';
import { contentOf } from '../show/midi-file.js';
import type { Moment, MomentSend } from '../show/moment.js';
import type { Show } from '../show.js';
import type { Finding, Place } from './finding.js';

const placeOfMoment = (moment: Moment): Place => ({
  table: 'moments',
  id: moment.id,
  name: momentName(moment),
});

const fault = (rule: string, words: string, moment: Moment): Finding => ({
  rule,
  weight: 'fault',
  words: `${momentName(moment)} ${words}`,
  places: [placeOfMoment(moment)],
});

function twoCalled({ moments }: Show): Finding[] {
  return [...sharedCallers(moments)].map(([id, others]): Finding => {
    const moment = moments.find((one) => one.id === id)!;
    const words = `One control calls ${[moment, ...others].map(momentName).join(' and ')}: all of them are called, and the last one sets the standby.`;
    return {
      rule: 'a control that calls two moments',
      weight: 'warning',
      words,
      places: [placeOfMoment(moment)],
    };
  });
}

function lineMissing({ lines, moments }: Show): Finding[] {
  const there = new Set(lines.map(({ id }) => id));
  const isGone = (send: MomentSend): boolean => {
    const lineId = lineOfSend(send);
    const needsLine = send.kind !== 'send' || SENDS[send.send.kind].protocol !== null;
    return needsLine && (lineId === null || !there.has(lineId));
  };
  return moments
    .filter(({ sends }) => sends.some(isGone))
    .map((moment) => fault('a missing line', 'sends to a missing line: choose another for it.', moment));
}

/** Returns what a send names that the show no longer has; null if nothing is missing. */
function missingOf(given: MomentSend, { looks, groups, midiFiles, moments, banks }: Show): string | null {
  const lacks = (rows: readonly { id: string }[], id: string | null): boolean =>
    !rows.some((row) => row.id === id);
  switch (given.kind) {
    case 'look':
      return lacks(looks, given.lookId) ? 'a look' : null;
    case 'file': {
      const row = midiFiles.find(({ id }) => id === given.fileId);
      return row && contentOf(row) ? null : 'a MIDI file';
    }
    case 'levels':
      return given.levels.some((one) => 'groupId' in one && lacks(groups, one.groupId)) ? 'a group' : null;
    case 'send': {
      const { send } = given;
      if (send.kind === 'bank') return lacks(banks, send.bankId) ? 'a bank' : null;
      if (send.kind === 'call' && send.momentId !== null)
        return lacks(moments, send.momentId) ? 'a moment' : null;
      return null;
    }
  }
}

function namedMissing(show: Show): Finding[] {
  return show.moments.flatMap((moment) =>
    moment.sends.flatMap((given) => {
      const missing = missingOf(given, show);
      return missing === null
        ? []
        : [fault('something removed', `names ${missing} that was removed: choose another.`, moment)];
    }),
  );
}

function rings({ moments }: Show): Finding[] {
  return moments
    .filter((moment) => ringOf(moments, moment) >= 0)
    .map((moment) =>
      fault(
        'a moment that calls itself',
        'calls itself again without any delay: give one of them a delay.',
        moment,
      ),
    );
}

/** Finds files that play until they are stopped, and that nothing stops. */
function endless(show: Show): Finding[] {
  const stopped = new Set(
    show.moments.flatMap(({ sends }) =>
      sends.flatMap((one) =>
        one.kind === 'send' && one.send.kind === 'call' && one.send.act === 'stop' ? [one.send.momentId] : [],
      ),
    ),
  );
  return show.moments
    .filter(({ sends }) => sends.some((one) => one.kind === 'file' && one.times === 0))
    .filter(({ id }) => !stopped.has(id) && !stopped.has(null))
    .map((moment) => ({
      ...fault(
        'a file without an end',
        'plays a file until stopped, and no moment stops it. Stop it on the prompt desk.',
        moment,
      ),
      weight: 'warning',
    }));
}

function firstFollows({ moments }: Show): Finding[] {
  const first = moments.find(({ parked }) => !parked);
  return first?.follow
    ? [
        {
          ...fault(
            'nothing to follow',
            'follows the previous moment, but is the first: it waits for Go.',
            first,
          ),
          weight: 'warning',
        },
      ]
    : [];
}

export const MOMENT_RULES: ((show: Show) => Finding[])[] = [
  lineMissing,
  namedMissing,
  rings,
  twoCalled,
  endless,
  firstFollows,
];
