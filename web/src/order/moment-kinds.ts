/** What a moment can do on a line: everything that mappings can send, and its own kinds. */
import { delayOf } from '@tawny-signal/core/cues/expand';
import { sendAs, SENDS, type SendKind } from '@tawny-signal/core/sends';
import type { Protocol } from '@tawny-signal/core/show/line';
import { makeMomentSend, type MomentSend } from '@tawny-signal/core/show/moment';
import type { Show } from '@tawny-signal/core/show';
import { kindsOf } from '../mappings/send-kinds';
import type { Option } from '../ui/select';

export type MomentKind = SendKind | 'levels' | 'look' | 'file';

export const kindOf = (given: MomentSend): MomentKind =>
  given.kind === 'send' ? given.send.kind : given.kind;

export const protocolOfSend = (given: MomentSend): Protocol | null => {
  if (given.kind === 'file') return 'midi';
  return given.kind === 'send' ? SENDS[given.send.kind].protocol : 'dmx';
};

/** The kinds that only moments have. They are listed first. */
const OWN: Partial<Record<Protocol, Option<MomentKind>[]>> = {
  dmx: [
    { value: 'levels', words: 'Levels of slots' },
    { value: 'look', words: 'A look' },
  ],
  midi: [{ value: 'file', words: 'MIDI file' }],
};

export function momentKinds(protocol: Protocol | null): Option<MomentKind>[] {
  const messages = kindsOf(protocol).map((kind): Option<MomentKind> => ({
    value: kind,
    words: SENDS[kind].words,
  }));
  const own = protocol === null ? [] : (OWN[protocol] ?? []);
  return protocol === 'dmx' ? [...own, ...messages] : [...messages, ...own];
}

/** Creates a send of a kind for a line, and takes over what fits from another one. */
export function makeKind(kind: MomentKind, lineId: string | null, show: Show, from?: MomentSend): MomentSend {
  const delayMs = from ? delayOf(from) : 0;
  const fadeMs = from && from.kind !== 'file' ? from.fadeMs : 0;
  switch (kind) {
    case 'levels':
      return makeMomentSend({ kind, lineId, delayMs, fadeMs, levels: [{ slots: [1, 1], level: 255 }] });
    case 'look':
      return makeMomentSend({ kind, lineId, delayMs, fadeMs, lookId: show.looks[0]?.id ?? null });
    case 'file':
      return makeMomentSend({ kind, lineId, delayMs, fileId: show.midiFiles[0]?.id ?? null, tracks: 'all' });
    default: {
      const send = sendAs(kind, lineId, from?.kind === 'send' ? from.send : undefined);
      const made = send.kind === 'call' ? { ...send, act: 'run' as const } : send;
      return makeMomentSend({ kind: 'send', send: made, value: SENDS[kind].out[1], fadeMs });
    }
  }
}

/** Kinds that can change over time. */
const FADES: MomentKind[] = ['levels', 'look', 'osc', 'control', 'control14', 'slot'];
export const canFade = (given: MomentSend): given is Exclude<MomentSend, { kind: 'file' }> =>
  FADES.includes(kindOf(given));

export const withDelay = (given: MomentSend, delayMs: number): MomentSend =>
  given.kind === 'send' ? { ...given, send: { ...given.send, delayMs } } : { ...given, delayMs };
