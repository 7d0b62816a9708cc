/** What a sender writes into the journal of a packet: what it has said since the checkpoint (RFC 6295, appendices A and B). */
import type { ChannelHistory, ControllerSaid, NoteSaid } from './history/channel-history.js';
import { isMode, isSwitch, RELEASE_AS_USUAL } from './history/channel-history.js';
import type { History } from './history/history.js';
import type { ParameterSaid } from './history/parameter-history.js';
import type { Said } from './history/said.js';
import { asOctets, type SystemHistory } from './history/system-history.js';
import type { ChannelJournal, Journal } from './journal.js';
import type { ChannelChapters, ControllerLog, NoteChapter, NoteExtra } from './journal/channel-chapters.js';
import type { ParameterLog } from './journal/parameters.js';
import type { SystemChapters } from './journal/system-chapters.js';

/** A press that is older is not recommended to be made good, in ms (the Y bit, A.6.2). */
export const FRESH_MS = 100;
/**
 * The most logs of each sort that are told, the youngest ones: with all notes they are what fits into the 1023 octets of a channel. A stream that changes
 * more of them on one channel, before anybody has confirmed one, is not made good wholly.
 */
const MOST = { controllers: 100, parameters: 24, extras: 64, pressures: 64 };

/** Which part of the history is told, and when. */
interface Range {
  /** The first packet that is told of, and the one just before that which tells. */
  from: number;
  last: number;
  /** Now, in ms. */
  now: number;
}

const isTold = (said: Said | null, { from }: Range): said is Said => said !== null && said.packet >= from;
const isSingle = (said: Said, { last }: Range): boolean => said.packet !== last;

function told<Entry extends Said>(map: ReadonlyMap<number, Entry>, range: Range): [number, Entry][] {
  const entries: [number, Entry][] = [];
  for (const entry of map) if (entry[1].packet >= range.from) entries.push(entry);
  return entries;
}

const allSingle = (logs: readonly { single: boolean }[]): boolean => logs.every(({ single }) => single);

/** A mode message is counted too; a switch is told with how often it was switched; all else is its value (A.3.2, A.3.3). */
function controllerLogs(number: number, said: ControllerSaid, range: Range): ControllerLog[] {
  const single = isSingle(said, range);
  const value: ControllerLog = { single, number, tool: 'value', value: said.value };
  if (isMode(number)) return [{ single, number, tool: 'count', value: said.count % 64 }, value];
  return isSwitch(number) ? [value, { single, number, tool: 'toggle', value: said.toggles % 64 }] : [value];
}

function parameterLog(said: ParameterSaid, range: Range): ParameterLog {
  const { msb, lsb, buttons, buttonsSince, registered, number } = said;
  const isSame = buttons === null || buttons.reset || buttons.value === buttonsSince;
  return {
    single: isSingle(said, range),
    registered,
    number,
    msb,
    lsb,
    buttons,
    buttonsSince: isSame ? null : buttonsSince,
    count: null,
    tellsValue: true,
    tellsCount: false,
  };
}

function tellParameters({ parameters }: ChannelHistory, range: Range): ChannelChapters['parameters'] {
  const logs = told(parameters.logs, range)
    .slice(-MOST.parameters)
    .map(([, said]) => parameterLog(said, range));
  if (logs.length === 0 && parameters.packet < range.from) return undefined;
  return {
    single: allSingle(logs) && parameters.packet !== range.last,
    pending: parameters.pending,
    open: parameters.chosen !== null && parameters.pending === null,
    logs,
  };
}

/** Presses without a release between, and the force of a release where that is unusual (A.7.2). */
function extrasOf(channel: ChannelHistory, notes: readonly [number, NoteSaid][], range: Range): NoteExtra[] {
  const extras: NoteExtra[] = [];
  for (const [note, said] of notes) {
    const single = isSingle(said, range);
    const stacked = channel.stacked.get(note) ?? 0;
    if (stacked > (said.velocity > 0 ? 1 : 0))
      extras.push({ single, note, what: 'count', value: Math.min(127, stacked) });
    if (said.velocity === 0 && said.release !== RELEASE_AS_USUAL)
      extras.push({ single, note, what: 'velocity', value: said.release });
  }
  // What is stacked counts for more (A.7.2).
  return extras.length > MOST.extras ? extras.filter(({ what }) => what === 'count') : extras;
}

function notesOf(notes: readonly [number, NoteSaid][], range: Range): NoteChapter {
  const off = notes.filter(([, { velocity }]) => velocity === 0);
  return {
    single: off.every(([, said]) => isSingle(said, range)),
    on: notes
      .filter(([, { velocity }]) => velocity > 0)
      .map(([note, said]) => ({
        single: isSingle(said, range),
        note,
        play: range.now - said.at <= FRESH_MS,
        velocity: said.velocity,
      })),
    off: off.map(([note]) => note),
  };
}

/** Logs of the youngest that fit. */
const listed = <Log extends { single: boolean }>(
  logs: readonly Log[],
  most: number,
): { single: boolean; logs: Log[] } | null =>
  logs.length === 0 ? null : { single: allSingle(logs), logs: logs.slice(-most) };

function tellChannel(channel: ChannelHistory, number: number, range: Range): ChannelJournal {
  const chapters: ChannelChapters = {};
  const { program, bend, pressure } = channel;
  if (program && isTold(program, range))
    chapters.program = { single: isSingle(program, range), program: program.program, bank: program.bank };
  const controllers = listed(
    told(channel.controllers, range).flatMap(([one, said]) => controllerLogs(one, said, range)),
    MOST.controllers,
  );
  if (controllers) chapters.controllers = controllers;
  const parameters = tellParameters(channel, range);
  if (parameters) chapters.parameters = parameters;
  if (bend && isTold(bend, range)) chapters.bend = { single: isSingle(bend, range), value: bend.value };
  const notes = told(channel.notes, range);
  if (notes.length > 0) chapters.notes = notesOf(notes, range);
  const extras = listed(extrasOf(channel, notes, range), MOST.extras);
  if (extras) chapters.extras = extras;
  if (pressure && isTold(pressure, range))
    chapters.pressure = { single: isSingle(pressure, range), value: pressure.value };
  const pressures = listed(
    told(channel.notePressures, range).map(([note, said]) => ({
      single: isSingle(said, range),
      note,
      off: said.off,
      value: said.value,
    })),
    MOST.pressures,
  );
  if (pressures) chapters.notePressures = pressures;
  return { single: channel.packet !== range.last, channel: number, enhanced: false, chapters };
}

function tellSimple({ reset, tune, song }: SystemHistory, range: Range): SystemChapters['simple'] {
  const counted = (said: SystemHistory['reset']): { single: boolean; count: number } | null =>
    isTold(said, range) ? { single: isSingle(said, range), count: said.count % 128 } : null;
  const chapter = {
    reset: counted(reset),
    tune: counted(tune),
    song: song && isTold(song, range) ? { single: isSingle(song, range), value: song.value } : null,
  };
  const logs = Object.values(chapter).filter((log) => log !== null);
  return logs.length === 0 ? undefined : { single: allSingle(logs), ...chapter };
}

function tellTimecode({ timecode }: SystemHistory, range: Range): SystemChapters['timecode'] {
  const { backward, complete, partial } = timecode;
  if (!isTold(timecode, range)) return undefined;
  return {
    single: isSingle(timecode, range),
    backward,
    complete: complete && isTold(complete, range) ? complete : null,
    partial: partial && { point: partial.point, octets: asOctets(partial.nibbles) },
  };
}

function tellSystem(system: SystemHistory, range: Range): Journal['system'] {
  if (!isTold(system, range)) return null;
  const { activeSense, sequencer, sysex } = system;
  const chapters: SystemChapters = {};
  const simple = tellSimple(system, range);
  if (simple) chapters.simple = simple;
  if (isTold(activeSense, range))
    chapters.activeSense = { single: isSingle(activeSense, range), count: activeSense.count % 128 };
  if (isTold(sequencer, range)) {
    const { runs, played, clocks, fromStart } = sequencer;
    const isStart = clocks === 0 && !played && fromStart;
    const at = { clocks: isStart ? null : clocks, ms: null };
    chapters.sequencer = { single: isSingle(sequencer, range), runs, played, ...at };
  }
  const timecode = tellTimecode(system, range);
  if (timecode) chapters.timecode = timecode;
  const last = sysex.last.filter((said) => isTold(said, range));
  if (last.length > 0)
    chapters.sysex = last.map(({ state, count, data, ...said }) => ({
      single: isSingle(said, range),
      state,
      lists: true,
      typeCount: null,
      count: count % 256,
      first: null,
      data,
    }));
  if (Object.keys(chapters).length === 0) return null;
  return { single: system.packet !== range.last, chapters };
}

/**
 * Returns the journal of a packet.
 * @param checkpoint the first packet that it tells of. @param packet the one that it is in; both counted on beyond 65535. @param now in ms
 */
export function tellHistory(history: History, checkpoint: number, packet: number, now: number): Journal {
  const range = { from: checkpoint, last: packet - 1, now };
  const system = tellSystem(history.system, range);
  const channels = history.channels
    .flatMap((channel, number) =>
      channel && channel.packet >= checkpoint ? [tellChannel(channel, number, range)] : [],
    )
    .filter(({ chapters }) => Object.keys(chapters).length > 0);
  return {
    single: allSingle(channels) && (system?.single ?? true),
    enhanced: false,
    checkpoint: checkpoint & 0xffff,
    system,
    channels,
  };
}
