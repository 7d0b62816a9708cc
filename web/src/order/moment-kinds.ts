/** What a moment can do on a line: everything that mappings can send, and its own kinds. */
import { forMoment } from '@tawny-signal/core/mapping/lets-go';
import { delayOf, fadeOf } from '@tawny-signal/core/cues/expand';
import { sendAs, SENDS, type SendKind } from '@tawny-signal/core/sends';
import type { Protocol } from '@tawny-signal/core/show/line';
import { makeMomentSend, type MomentSend } from '@tawny-signal/core/show/moment';
import type { Show } from '@tawny-signal/core/show';
import { kindsOf } from '../mappings/send-kinds';
import type { Option } from '../ui/select';
import { inMs, type Span } from '@tawny-signal/core/time/span';

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
  const { ms: delayMs, beats: delayBeats } = from ? delayOf(from) : inMs(0);
  const { ms: fadeMs, beats: fadeBeats } = from ? fadeOf(from) : inMs(0);
  const delay = { delayMs, delayBeats };
  const fade = { fadeMs, fadeBeats };
  switch (kind) {
    case 'levels':
      return makeMomentSend({ kind, lineId, ...delay, ...fade, levels: [{ slots: [1, 1], level: 255 }] });
    case 'look':
      return makeMomentSend({ kind, lineId, ...delay, ...fade, lookId: show.looks[0]?.id ?? null });
    case 'file':
      return makeMomentSend({ kind, lineId, ...delay, fileId: show.midiFiles[0]?.id ?? null, tracks: 'all' });
    default: {
      const send = forMoment(sendAs(kind, lineId, from?.kind === 'send' ? from.send : undefined));
      const made = send.kind === 'call' ? { ...send, act: 'run' as const } : send;
      return makeMomentSend({ kind: 'send', send: made, value: SENDS[kind].out[1], ...fade });
    }
  }
}

/** Kinds that can change over time. */
const FADES: MomentKind[] = ['levels', 'look', 'osc', 'control', 'control14', 'slot'];
export const canFade = (given: MomentSend): given is Exclude<MomentSend, { kind: 'file' }> =>
  FADES.includes(kindOf(given));

export function withDelay(given: MomentSend, { ms: delayMs, beats: delayBeats }: Span): MomentSend {
  const delay = { delayMs, delayBeats };
  return given.kind === 'send' ? { ...given, send: { ...given.send, ...delay } } : { ...given, ...delay };
}
