/**
 * Learn: when a control is touched, a mapping hears it at once in the most likely way. Everything else that it sends is gathered and offered. More
 * controls can be learned in a row without the mouse.
 */
import { useCallback, useRef, useState } from 'react';
import { gather, type LearnControl } from '@tawny-signal/core/learn/gather';
import type { LearnOption } from '@tawny-signal/core/learn/options';
import type { Hear } from '@tawny-signal/core/hears';
import { useShow } from '../show/show';
import { useBeginTouches, useTouches, type TouchSession } from '../traffic/touches';

/** `listening`: for the first touch. `taken`: a mapping hears the control; what more it sends is gathered. */
export type LearnPhase = 'off' | 'listening' | 'taken';

export interface Learn {
  phase: LearnPhase;
  /** The control that was taken, as it is known by now. */
  control: LearnControl | null;
  /** The mapping that hears the control; null until it is made. */
  mappingId: string | null;
  /** The index of the chosen option. */
  chosen: number;
  /** What moved by itself at the start and is ignored; empty for nothing. */
  passedOver: string;
  /** True if the next control that is touched is learned too. */
  series: boolean;
  /** True if the next control that is touched is the other end of a range. */
  ranging: boolean;
  start(): void;
  stop(): void;
  choose(at: number): void;
  setSeries(series: boolean): void;
  range(): void;
}

export interface LearnTaker {
  /** Makes a mapping hear an option. @param fresh true for a new mapping even if one is open. @returns the id of the mapping; null if it failed */
  take(option: LearnOption, fresh: boolean): Promise<string | null>;
  /** Makes that mapping hear something else. */
  retake(mappingId: string, option: LearnOption): void;
}

interface LearnState {
  phase: LearnPhase;
  control: LearnControl | null;
  mappingId: string | null;
  chosen: number;
  ranging: boolean;
  passedOver: string;
}
const OFF: LearnState = {
  phase: 'off',
  control: null,
  mappingId: null,
  chosen: 0,
  ranging: false,
  passedOver: '',
};

interface Taken {
  key: string;
  /** Null until the mapping is made. */
  mappingId: string | null;
  chosen: number;
  /** What the mapping hears and its shape, as text. */
  heard: string;
}

const textOf = ({ hear, shape }: LearnOption): string => JSON.stringify([hear, shape]);

/** Returns a range from two controls of the same kind; null if they are of different kinds. */
export function rangeOf(from: Hear, to: Hear): Hear | null {
  if (from.message !== to.message || from.lineId !== to.lineId) return null;
  const join = (a: unknown, b: unknown): [number, number] | null =>
    Array.isArray(a) && Array.isArray(b)
      ? [Math.min(...(a as number[]), ...(b as number[])), Math.max(...(a as number[]), ...(b as number[]))]
      : null;
  if ('numbers' in from && 'numbers' in to) {
    const numbers = join(from.numbers, to.numbers);
    return numbers && String(from.channels) === String(to.channels) ? { ...from, numbers } : null;
  }
  if ('slots' in from && 'slots' in to) {
    const slots = join(from.slots, to.slots);
    return slots && { ...from, slots };
  }
  return null;
}

export function useLearn({ take, retake }: LearnTaker): Learn {
  const { settings } = useShow();
  const begin = useBeginTouches();
  const [session, setSession] = useState<TouchSession | null>(null);
  const [state, setState] = useState(OFF);
  const [series, setSeries] = useState(false);
  const taken = useRef<Taken | null>(null);
  const known = useRef(new Set<string>());
  const { phase, ranging } = state;

  const stop = useCallback(() => setState(OFF), []);

  const takeControl = useCallback(
    async (control: LearnControl, fresh: boolean) => {
      const [likely] = control.options;
      const now: Taken = { key: control.key, mappingId: null, chosen: 0, heard: textOf(likely!) };
      taken.current = now;
      known.current.add(control.key);
      setState((before) => ({
        ...before,
        phase: 'taken',
        control,
        mappingId: null,
        chosen: 0,
        ranging: false,
      }));
      const mappingId = (now.mappingId = await take(likely!, fresh));
      if (taken.current !== now) return;
      if (mappingId === null) stop();
      else setState((before) => ({ ...before, mappingId }));
    },
    [take, stop],
  );

  /** What the control has sent since may show that another way of hearing it is meant. */
  const follow = useCallback(
    (control: LearnControl) => {
      const now = taken.current!;
      setState((before) => ({ ...before, control }));
      const option = control.options[now.chosen];
      if (now.chosen !== 0 || !option || now.mappingId === null || textOf(option) === now.heard) return;
      now.heard = textOf(option);
      retake(now.mappingId, option);
    },
    [retake],
  );

  const joinRange = useCallback(
    (other: LearnControl, mine: LearnControl): boolean => {
      const now = taken.current!;
      const option = mine.options[now.chosen];
      const hear =
        option && rangeOf(option.hear, { ...other.options[0]!.hear, message: option.hear.message } as Hear);
      if (!hear || now.mappingId === null) return false;
      known.current.add(other.key);
      now.heard = '';
      now.chosen = -1; // it is another one now, and stays so
      retake(now.mappingId, { ...option, hear });
      setState((before) => ({ ...before, ranging: false }));
      return true;
    },
    [retake],
  );

  useTouches(phase === 'off' ? null : session, (touches) => {
    const controls = gather(touches, settings.middleC);
    if (!taken.current) {
      if (controls[0]) void takeControl(controls[0], false);
      return;
    }
    const mine = controls.find(({ key }) => key === taken.current!.key);
    const other = controls.find(({ key }) => !known.current.has(key));
    if (mine && other && ranging && joinRange(other, mine)) return;
    if (other && series && taken.current.mappingId !== null) void takeControl(other, true);
    else if (mine) follow(mine);
  });

  const choose = (at: number): void => {
    const now = taken.current;
    const option = state.control?.options[at];
    if (!now || !option || now.mappingId === null) return;
    now.chosen = at;
    now.heard = textOf(option);
    retake(now.mappingId, option);
    setState((before) => ({ ...before, chosen: at }));
  };
  const start = (): void => {
    taken.current = null;
    known.current = new Set();
    const next = begin();
    setSession(next);
    setState({ ...OFF, phase: 'listening', passedOver: next.passedOver });
  };
  const range = (): void => setState((before) => ({ ...before, ranging: !before.ranging }));

  return { ...state, series, start, stop, choose, setSeries, range };
}
