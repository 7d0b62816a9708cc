/** What is shown of a line: its eyes, its rate, its trouble. */
import { useMemo } from 'react';
import type { LineState } from '@tawny-signal/core/live/line-state';
import type { Line } from '@tawny-signal/core/show/line';
import { useLive, useLiveValue } from '../live/live';
import { EYE_MS } from '../live/rates';
import type { EyesProps } from '../ui/eyes';

export interface LineView {
  eyes: EyesProps;
  inRate: number;
  outRate: number;
  rateWords: string;
  /** The whole text; empty for none. */
  trouble: string;
  /** A short text for the narrow column. */
  shortTrouble: string;
}

/** An open line is in trouble too if more arrives than can be processed. */
const shortOf = ({ state, trouble }: LineState): string =>
  state === 'open' && trouble !== '' ? 'too much input' : SHORT[state];

const SHORT = { trouble: 'not answering', waiting: 'waiting', open: '' };

export function useLineView(line: Line): LineView {
  const { store } = useLive();
  const rate = useLiveValue('lines', (live) => live.rate(line.id), 60);
  const state = useLiveValue('lines', (live) => live.lineState(line.id), 60);
  const now = performance.now();
  const inLit = now - rate.inAt < EYE_MS;
  const outLit = now - rate.outAt < EYE_MS;
  const connected = store.connected();
  return useMemo(() => {
    const trouble = !connected ? 'No connection to the server.' : (state?.trouble ?? '');
    const one = state?.state ?? 'unknown';
    const sides = state?.sides ?? { in: one, out: one };
    return {
      eyes: { sides, muted: line.muted, inLit, outLit },
      inRate: rate.in,
      outRate: rate.out,
      rateWords: state?.state === 'open' ? `${rate.in + rate.out}/s` : '–',
      trouble: line.muted && !trouble ? 'Muted: nothing passes in or out.' : trouble,
      shortTrouble: line.muted ? 'muted' : state ? shortOf(state) : 'no connection',
    };
  }, [connected, state, line.muted, inLit, outLit, rate.in, rate.out]);
}
