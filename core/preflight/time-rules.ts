/** The rules that read the show's time: timecodes that do not exist, moments that nothing can call, sources and outputs without a line. */
import { momentName } from '../show/moment-name.js';
import type { Moment } from '../show/moment.js';
import type { TempoMark } from '../show/tempo-mark.js';
import type { Show } from '../show.js';
import { RATES } from '../timecode/frame-rate.js';
import { readTimecode } from '../timecode/timecode.js';
import { TIME_WAYS } from '../time/ways.js';
import type { Finding, Place } from './finding.js';

const placeOf = (moment: Moment): Place => ({ table: 'moments', id: moment.id, name: momentName(moment) });

/** Timecodes were written at another frame rate than the show has now. */
function noSuchFrame({ moments, settings }: Show): Finding[] {
  const { frameRate } = settings.timecode;
  return moments.flatMap((moment): Finding[] => {
    const read = moment.timecode === null ? null : readTimecode(moment.timecode, frameRate);
    if (!read || read.ok) return [];
    return [
      {
        rule: 'a timecode that does not exist',
        weight: 'fault',
        words: `${momentName(moment)} is never called at ${moment.timecode}. ${read.reason}`,
        places: [placeOf(moment)],
      },
    ];
  });
}

/** A tempo mark that is nowhere, or two at one place. */
function marksNowhere({ tempoMarks, settings }: Show): Finding[] {
  const placeOfMark = ({ id, name, timecode }: TempoMark): Place => ({
    table: 'tempoMarks',
    id,
    name: name || timecode,
  });
  return tempoMarks.flatMap((mark, at): Finding[] => {
    const read = readTimecode(mark.timecode, settings.timecode.frameRate);
    const rule = 'a tempo mark that does nothing';
    if (!read.ok)
      return [
        {
          rule,
          weight: 'fault',
          words: `The tempo mark at ${mark.timecode} is nowhere. ${read.reason}`,
          places: [placeOfMark(mark)],
        },
      ];
    const later = tempoMarks.slice(at + 1).find(({ timecode }) => timecode === mark.timecode);
    if (!later || later.bpm === mark.bpm) return [];
    return [
      {
        rule,
        weight: 'warning',
        words: `Two tempo marks are at ${mark.timecode}: only the last one counts, with ${later.bpm} beats a minute.`,
        places: [placeOfMark(mark), placeOfMark(later)],
      },
    ];
  });
}

/** A drop-frame timecode is written with a semicolon; the other sort belongs to a show with another rate. */
function mixedRates({ moments, settings }: Show): Finding[] {
  const { frameRate } = settings.timecode;
  const drops = RATES[frameRate].drop;
  const other = moments.filter(({ timecode }) => timecode !== null && timecode.includes(';') !== drops);
  if (other.length === 0) return [];
  return [
    {
      rule: 'timecodes of another frame rate',
      weight: 'warning',
      words: `${other.map(momentName).join(', ')}: ${drops ? 'written without' : 'written with'} drop-frame, and the show is at ${RATES[frameRate].words}.`,
      places: other.map(placeOf),
    },
  ];
}

function linesMissing({ timeSources, timeOutputs, lines }: Show): Finding[] {
  const there = new Set(lines.map(({ id }) => id));
  return [...timeSources, ...timeOutputs]
    .filter(({ lineId }) => lineId === null || !there.has(lineId))
    .map(({ kind }) => ({
      rule: 'time without a line',
      weight: 'fault',
      words: `${TIME_WAYS[kind].words} in the Time place has no line: choose one for it, or remove it.`,
      places: [],
    }));
}

export const TIME_RULES: ((show: Show) => Finding[])[] = [
  noSuchFrame,
  marksNowhere,
  mixedRates,
  linesMissing,
];
