/** The tempo: as the show opens with, until it is typed, tapped, sent, heard as MIDI clock or given by marks along the position; and restored after a restart. */
import { MOVE_MS } from '../../time/pace.js';
import { AUTO, OWN, positionAt, type Motion } from '../../time/position.js';
import {
  markAt,
  MARKS,
  placeMarks,
  songBeatAtPlace,
  tempoOfMark,
  type PlacedMark,
} from '../../time/tempo-marks.js';
import { createTempoSources, type TempoSourceState } from '../../time/tempo-sources.js';
import {
  barOf,
  beatAt,
  BEATS_TO_BAR,
  countedOn,
  createTapper,
  FASTEST,
  SLOWEST,
  type Tempo,
} from '../../time/tempo.js';
import { losesMessages } from '../../show/line.js';
import type { Part, Stage } from '../part.js';

/** Where the tempo comes from. */
export interface TempoState {
  /** The id of the source that it follows, `marks`, or `own`. */
  counts: string;
  /** The id of a source; `marks`; `own`; or `auto`: the first source that is heard, or else the marks. */
  chosen: string;
}

export interface TempoView {
  /** Returns a new object after each change, so that callers can compare by identity. */
  tempo(): Tempo;
  /** Returns a new object after each change. */
  state(): TempoState;
  sources(): Record<string, TempoSourceState>;
  /** The beat of the song at a place of the position in ms, by the marks; null where they do not count. */
  songBeatOf(ms: number): number | null;
}

export interface TempoPart extends Part, TempoView {}

/** A tempo on its way to another one. */
interface Glide {
  from: number;
  to: number;
  /** When it began, how long it takes in ms, and the beat at which it began. */
  at: number;
  ms: number;
  beat: number;
}

const within = (bpm: number): number => Math.max(SLOWEST, Math.min(FASTEST, bpm));
/** Added to the instant at which a silence is looked at, so that it is over then. */
const JUST_MS = 0.01;

/** @param motion the position's */
export function createTempoPart(stage: Pick<Stage, 'arrivedAt' | 'lineOf'>, motion: () => Motion): TempoPart {
  const tapper = createTapper();
  const sources = createTempoSources();
  let tempo: Tempo = { bpm: 120, since: 0 };
  let state: TempoState = { counts: OWN, chosen: AUTO };
  let glide: Glide | null = null;
  /** When the glide moves next, and when the silence of the source is looked at. */
  let moveAt = Infinity;
  let lookAt = Infinity;
  /** The tempo that the show opens with, when it was last loaded. */
  let ofTheShow: number | null = null;
  let beatsToBar = BEATS_TO_BAR;
  let marks: readonly PlacedMark[] = [];
  /** The motion that the marks were last read along, and when the position gets to the next mark. */
  let along: Motion | null = null;
  let markComesAt = Infinity;

  function set(change: Partial<TempoState>): void {
    const next = { ...state, ...change };
    if (next.counts !== state.counts || next.chosen !== state.chosen) state = next;
  }

  /** Changes the speed; the current beat stays. */
  function setSpeed(bpm: number, now: number): void {
    if (bpm !== tempo.bpm) tempo = { ...tempo, bpm, since: now - (beatAt(tempo, now) * 60_000) / bpm };
  }

  /** Takes up a tempo that counts its own beats, with a bar on beat 0 unless it says another one. The count goes on from where it is. */
  function takeUp({ bpm, since, bar }: Tempo, now: number): void {
    tempo = countedOn({ bpm, since, bar: bar ?? { at: 0, beats: beatsToBar } }, tempo, now);
  }

  /** Asking for our own tempo while a clock counts means that ours counts from now on. */
  function takeOver(): void {
    if (state.counts !== OWN) {
      set({ counts: OWN, chosen: OWN });
      lookAt = markComesAt = Infinity;
    }
    glide = null;
    moveAt = Infinity;
  }

  function tap(now: number): void {
    takeOver();
    // The first tap moves the beat and leaves the speed as it is.
    takeUp(tapper.tap(now) ?? { bpm: tempo.bpm, since: now }, now);
  }

  /** @param beats the number of beats in which it gets there */
  function goTo(bpm: number, beats: number, now: number): void {
    takeOver();
    if (beats <= 0) return setSpeed(within(bpm), now);
    const to = within(bpm);
    // The mean of both speeds is kept for so many beats.
    const ms = (beats * 120_000) / (tempo.bpm + to);
    glide = { from: tempo.bpm, to, at: now, ms, beat: beatAt(tempo, now) };
    moveAt = now;
  }

  /** The beat and the speed are computed from the beginning of the glide, so that its end is exact. */
  function move(now: number): void {
    if (!glide) return;
    const { from, to, at, ms, beat } = glide;
    const passed = Math.min(ms, now - at);
    const bpm = from + ((to - from) * passed) / ms;
    const here = beat + (passed * (from + bpm)) / 120_000 + ((now - at - passed) * to) / 60_000;
    tempo = { ...tempo, bpm, since: now - (here * 60_000) / bpm };
    if (now - at >= ms) {
      glide = null;
      moveAt = Infinity;
    } else moveAt = Math.min(now + MOVE_MS, at + ms);
  }

  function follow(now: number): void {
    sources.expire(now);
    const picked = sources.pick(state.chosen);
    markComesAt = Infinity;
    if (picked === null) {
      lookAt = Infinity;
      if (state.chosen !== OWN && followMarks(now)) return;
      // The last tempo stays.
      set({ counts: OWN });
      return;
    }
    count(picked);
    takeUp(sources.tempoOf(picked)!, now);
    lookAt = sources.lookAt(picked) + JUST_MS;
  }

  function count(source: string): void {
    set({ counts: source });
    glide = null;
    moveAt = Infinity;
  }

  /** While the position stands or runs backward, the beat goes on by itself. @returns whether there is a mark */
  function followMarks(now: number): boolean {
    const here = motion();
    const place = positionAt(here, now);
    const at = markAt(marks, place);
    const next = marks[at + 1];
    if (next && here.speed > 0) markComesAt = now + (next.ms - place) / here.speed;
    const mark = marks[at];
    if (!mark) return false;
    count(MARKS);
    if (here.speed <= 0) setSpeed(mark.bpm, now);
    else takeUp(tempoOfMark(mark, here, now, beatsToBar), now);
    return true;
  }

  return {
    tempo: () => tempo,
    state: () => state,
    sources: () => Object.fromEntries(sources.ids().map((id) => [id, sources.stateOf(id)!])),
    songBeatOf: (ms) => (state.counts === MARKS ? songBeatAtPlace(marks, ms) : null),
    load({ show: { lines, settings, timeSources, tempoMarks }, whole }, now) {
      if (!whole) return;
      sources.load(
        timeSources,
        (id) => stage.lineOf(id).line,
        (lineId) => lines.some(({ id, kind }) => id === lineId && losesMessages(kind)),
      );
      beatsToBar = settings.beatsToBar;
      marks = placeMarks(tempoMarks, settings.timecode.frameRate, beatsToBar);
      along = null;
      if (![AUTO, OWN, MARKS, ...sources.ids()].includes(state.chosen)) set({ chosen: AUTO });
      if (state.counts !== OWN) follow(now);
      // Other edits of the show leave the tempo that was tapped or typed since.
      if (settings.tempo !== ofTheShow && state.counts === OWN) setSpeed(settings.tempo, now);
      ofTheShow = settings.tempo;
      if (barOf(tempo).beats !== beatsToBar)
        tempo = { ...tempo, bar: { at: barOf(tempo).at, beats: beatsToBar } };
    },
    hears: (line) => sources.on(line),
    hear(line, signal, now) {
      if (signal.kind !== 'system') return;
      const id = sources.hear(line, signal, Math.min(now, stage.arrivedAt()));
      if (id !== null && (state.counts === id || state.counts === OWN || state.chosen === AUTO)) follow(now);
    },
    act(act, _, now) {
      // A tap counts from when it arrived, so that waiting in a queue does not move the beat.
      if (act.do === 'tap') tap(stage.arrivedAt());
      if (act.do === 'tempo') goTo(act.bpm, act.beats, now);
    },
    take(input, now) {
      if (input.t === 'tap') tap(now);
      if (input.t === 'tempo') goTo(input.bpm, 0, now);
      if (input.t === 'tempoSource') {
        set({ chosen: input.source, ...(input.source === OWN && { counts: OWN }) });
        follow(now);
      }
      if (input.t !== 'restore') return;
      const { tempo: before, position } = input.before;
      if (before !== null) tempo = before;
      // Another show was opened: it has a tempo of its own.
      else if (position === null && state.counts === OWN && ofTheShow !== null) setSpeed(ofTheShow, now);
    },
    wakeAt: () => Math.min(moveAt, lookAt, markComesAt),
    wake(now) {
      if (now >= moveAt) move(now);
      if (now >= Math.min(lookAt, markComesAt)) follow(now);
    },
    finishes: () => marks.length > 0 || state.counts === MARKS,
    finish(now) {
      if (motion() === along) return;
      along = motion();
      if (state.chosen !== OWN) follow(now);
    },
  };
}
