/** What is said of sources and of the position. */
import type { PositionSeen } from '@tawny-signal/core/time/transport';
import type { SourceState } from '@tawny-signal/core/time/sources';
import type { TimeOf, TimeSource } from '@tawny-signal/core/time/ways';
import { OWN } from '@tawny-signal/core/time/position';
import { MARKS } from '@tawny-signal/core/time/tempo-marks';
import { RATES, type FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import type { Show } from '@tawny-signal/core/show';

/** The page of the position, and that of the tempo. */
export const PATH: Record<TimeOf, string> = { position: '/time', tempo: '/time/tempo' };

/** `4 min 12 s`, `26.5 s`, `0.4 s` */
export function spanWords(ms: number): string {
  const seconds = Math.max(0, ms) / 1000;
  if (seconds < 60) return `${seconds.toFixed(1)} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return `${minutes} min ${Math.floor(seconds % 60)} s`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** The name of a source: that of its line. */
export function sourceName({ timeSources, lines }: Show, id: string): string {
  if (id === OWN) return 'our own';
  if (id === MARKS) return 'the marks along the position';
  const row = timeSources.find((one) => one.id === id);
  return lines.find((line) => line.id === row?.lineId)?.name ?? 'no line';
}

/** A rate is pulled down by 1000/1001: its speed is told apart from full speed by this much. */
const PULLED = 1000 / 1001;
const TOLERANCE = 2e-4;

/** What is wrong with the rate of a source; null if nothing is. */
export function rateTrouble({ rate, quality }: SourceState, wanted: FrameRate | null): string | null {
  if (rate === null) return null;
  if (wanted !== null && RATES[wanted].code !== RATES[rate].code)
    return `It sends ${RATES[rate].words}, and ${RATES[wanted].words} is expected.`;
  const speed = quality.longSpeed;
  if (speed === null) return null;
  if (Math.abs(speed - PULLED) < TOLERANCE)
    return `It runs a thousandth slower than ${RATES[rate].words}: it is ${pulledDown(rate)}.`;
  if (Math.abs(speed - 1 / PULLED) < TOLERANCE)
    return `It runs a thousandth faster than ${RATES[rate].words}. Choose the rate that is not pulled down.`;
  return null;
}

const pulledDown = (rate: FrameRate): string =>
  rate === '24' ? RATES['23.976'].words : rate === '30' ? RATES['29.97'].words : 'pulled down';

/** `+12 ppm`, `98.0 %` */
export function speedWords(speed: number): string {
  const ppm = (Math.abs(speed) - 1) * 1e6;
  if (Math.abs(ppm) < 5000) return `${ppm < 0 ? '−' : '+'}${Math.abs(ppm).toFixed(0)} ppm`;
  return `${(speed * 100).toFixed(1)} %`;
}

/** @param kind how it is heard */
export function stateWords(
  { state, motion, quality, lastAt }: SourceState,
  kind: TimeSource['kind'],
  now: number,
): string {
  if (kind === 'mmc')
    return lastAt === null ? 'no command yet' : `last command ${spanWords(now - lastAt)} ago`;
  switch (state) {
    case 'silent':
      return lastAt === null ? 'nothing heard yet' : `silent for ${spanWords(now - lastAt)}`;
    case 'locking':
      return 'locking';
    case 'gap':
      return `silent for ${spanWords(now - (lastAt ?? now))}`;
    case 'standing':
      return 'standing';
    case 'locked':
      return `${(motion?.speed ?? 1) < 0 ? 'backward, ' : ''}locked for ${spanWords(now - (quality.lockedSince ?? now))}`;
  }
}

/** What the position does: `follows Tide clock`. */
export function modeWords(position: PositionSeen, show: Show): string {
  const name = sourceName(show, position.counts);
  switch (position.mode) {
    case 'own':
      return position.motion.speed === 0 ? 'our own, stopped' : 'our own, playing';
    case 'following':
      return `from ${name}`;
    case 'riding':
      return `${name} is silent: the position goes on`;
    case 'lost':
      return `${name} is lost: the position holds`;
    case 'standing':
      return `${name} stands there`;
  }
}

export const PASSED_WORDS = {
  off: 'not called: calls by timecode were off',
  takenOut: 'passed: it is not called by timecode',
  jumped: 'jumped over',
} as const;
