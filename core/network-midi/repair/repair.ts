/**
 * Compares what a journal tells with what was heard, and makes good what was lost (RFC 6295, section 4): what hangs is released first, then come programs,
 * controllers, parameters and bends, and presses last. A stream in which nothing was lost gets nothing, so it may be called for every packet.
 */
import { channelOf, type History } from '../history/history.js';
import type { ChannelJournal, Journal } from '../journal.js';
import { repairControllers } from './controllers.js';
import { releaseUntold, repairPresses, repairReleases } from './notes.js';
import { repairParameters } from './parameters.js';
import { createRepairs, type Repaired, type Repairs } from './repairs.js';
import { repairReset, repairSystem } from './system.js';

export interface Loss {
  /** The packet that ends the loss, counted on beyond 65535. */
  packet: number;
  isFirst: boolean;
  /** False if the journal does not reach back to the last packet that was heard. */
  isCovered: boolean;
  /** How long nothing was heard, in ms; Infinity for the first packet. */
  gapMs: number;
  /** Now, in ms. */
  now: number;
}

function repairValues(repairs: Repairs, { channel: number, chapters }: ChannelJournal): void {
  const channel = channelOf(repairs.history, number);
  const { program, controllers, parameters, bend, pressure } = chapters;
  const bank = program?.bank;
  if (program && (channel.program?.program !== program.program || isOtherBank())) {
    if (bank) {
      repairs.play(0xb0 | number, 0, bank.msb);
      // 0 is told, too, where none was ever sent; a receiver has 0 after the first octet.
      if (bank.lsb > 0) repairs.play(0xb0 | number, 32, bank.lsb);
    }
    repairs.play(0xc0 | number, program.program);
  }
  if (controllers) repairControllers(repairs, channel, 0xb0 | number, controllers.logs);
  if (parameters) repairParameters(repairs, channel, 0xb0 | number, parameters);
  if (bend && channel.bend?.value !== bend.value)
    repairs.play(0xe0 | number, bend.value & 0x7f, bend.value >> 7);
  if (pressure && channel.pressure?.value !== pressure.value) repairs.play(0xd0 | number, pressure.value);

  function isOtherBank(): boolean {
    const said = channel.program?.bank;
    return Boolean(bank) && (said?.msb !== bank!.msb || said.lsb !== bank!.lsb);
  }
}

function repairNotePressures(repairs: Repairs, { channel: number, chapters }: ChannelJournal): void {
  const { notePressures } = channelOf(repairs.history, number);
  for (const { note, value } of chapters.notePressures?.logs ?? [])
    if (notePressures.get(note)?.value !== value) repairs.play(0xa0 | number, note, value);
}

/** @param history what was heard; what is made good is noted in it */
export function repair(
  history: History,
  journal: Journal,
  { packet, isFirst, isCovered, gapMs, now }: Loss,
): Repaired {
  const { repairs, done } = createRepairs(history, { packet, isFirst, gapMs, now });
  const { channels, system } = journal;
  if (system) repairReset(repairs, system.chapters.simple);
  const toldOn = (number: number) =>
    channels.find(({ channel }) => channel === number)?.chapters.notes?.on ?? [];
  if (!isCovered)
    history.channels.forEach((channel, number) => {
      if (channel) releaseUntold(repairs, channel, number, toldOn(number));
    });
  for (const { channel, chapters } of channels)
    repairReleases(repairs, channelOf(history, channel), channel, chapters);
  for (const channel of channels) repairValues(repairs, channel);
  for (const { channel, chapters } of channels)
    repairPresses(repairs, channelOf(history, channel), channel, chapters);
  for (const channel of channels) repairNotePressures(repairs, channel);
  if (system) repairSystem(repairs, system.chapters);
  return done();
}
