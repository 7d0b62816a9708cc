/** Paints what a motion made and what it makes next: voices as traces, beats as lines, when each voice began. */
import { MAKES } from '@tawny-signal/core/motion/makes';
import type { VoiceView } from '@tawny-signal/core/motion/seen';
import { SCALING, type Motion } from '@tawny-signal/core/show/motion';
import { barOf, beatAt, timeOf, type Tempo } from '@tawny-signal/core/time/tempo';
import type { Brush } from '../ui/use-canvas';
import type { Sample } from './history';

const PAST_MS = 6000;
const NEXT_MS = 2000;
/** Lines of beats closer than this are left out, in pixels. */
const LEAST_BEAT_PX = 14;
const TRACES = ['tawny', 'tawny-2', 'moss', 'straw'] as const;

export interface Scope {
  motion: Motion;
  samples: readonly Sample[];
  tempo: Tempo | null;
  /** Whether something moves its speed or its form, so that what comes next is not known. */
  moved: boolean;
}

const keyOf = ({ note }: VoiceView): string => (note ? `${note.channel} ${note.number}` : '');

export function paintScope({ c, width, height, colour, now }: Brush, scope: Scope): void {
  const perMs = width / (PAST_MS + NEXT_MS);
  const xOf = (at: number): number => (at - now + PAST_MS) * perMs;
  const yOf = (value: number): number => 6 + (1 - value) * (height - 12);
  const nowX = xOf(now);
  c.fillStyle = colour('paper');
  c.fillRect(0, 0, width, height);
  paintBeats();
  c.strokeStyle = colour('rule');
  c.beginPath();
  c.moveTo(0, yOf(0.5));
  c.lineTo(width, yOf(0.5));
  c.stroke();
  paintPast();
  paintNext();
  c.strokeStyle = colour('tawny-2');
  c.lineWidth = 1;
  c.beginPath();
  c.moveTo(nowX, 0);
  c.lineTo(nowX, height);
  c.stroke();

  function paintBeats(): void {
    const { tempo } = scope;
    if (!tempo) return;
    const bar = barOf(tempo);
    const beatPx = (60_000 / tempo.bpm) * perMs;
    const first = Math.ceil(beatAt(tempo, now - PAST_MS));
    const last = Math.floor(beatAt(tempo, now + NEXT_MS));
    for (let beat = first; beat <= last; beat++) {
      const isBar = (((beat - bar.at) % bar.beats) + bar.beats) % bar.beats === 0;
      if (!isBar && beatPx < LEAST_BEAT_PX) continue;
      c.fillStyle = colour(isBar ? 'rule' : 'bark-2');
      c.fillRect(xOf(timeOf(tempo, beat)), 0, 1, height);
    }
  }

  function paintPast(): void {
    const traces = new Map<string, number>();
    const { samples } = scope;
    for (const { voices } of samples)
      for (const voice of voices) if (!traces.has(keyOf(voice))) traces.set(keyOf(voice), traces.size);
    c.lineWidth = 1.75;
    for (const [key, index] of traces) {
      c.strokeStyle = c.fillStyle = colour(TRACES[index % TRACES.length]!);
      c.beginPath();
      let drawing = false;
      let since = 0;
      let y = 0;
      for (const { at, voices } of samples) {
        const voice = voices.find((one) => keyOf(one) === key);
        if (!voice || voice.made === null) {
          drawing = false;
          continue;
        }
        // A mark where it was triggered.
        if (since !== 0 && voice.since !== since) c.fillRect(xOf(voice.since) - 1, height - 5, 3, 5);
        ({ since } = voice);
        y = yOf(voice.made);
        if (drawing) c.lineTo(xOf(at), y);
        else c.moveTo(xOf(at), y);
        drawing = true;
      }
      if (drawing) c.lineTo(nowX, y);
      c.stroke();
      if (!drawing) continue;
      c.beginPath();
      c.arc(nowX, y, 4, 0, 2 * Math.PI);
      c.fill();
    }
  }

  /** What comes next is computed as the engine does it, where it depends on nothing but the time. */
  function paintNext(): void {
    const voice = scope.samples.at(-1)?.voices[0];
    const { motion, tempo } = scope;
    const { makes, drive } = motion;
    const known =
      makes.kind === 'wave' || (makes.kind === 'steps' && makes.steps.every(({ chance }) => chance === 1));
    const hasOwnSpeed = SCALING.some((part) => motion[part] === 'speed');
    if (!voice || !known || drive.by === 'steps' || scope.moved || hasOwnSpeed) return;
    if (!tempo && drive.everyBeats !== null) return;
    const run = MAKES[makes.kind].run(makes, {
      drive,
      tempo: () => tempo ?? { bpm: 120, since: 0 },
      seed: 1,
      form: () => null,
      look: () => null,
      before: null,
    });
    run.press(voice.since);
    c.strokeStyle = colour('tawny');
    c.globalAlpha = 0.4;
    c.beginPath();
    for (let x = nowX; x <= width; x += 1.5) {
      const value = run.value(now + (x - nowX) / perMs);
      if (value !== null) c.lineTo(x, yOf(value));
    }
    c.stroke();
    c.globalAlpha = 1;
  }
}

/** Paints a small picture: the last seconds while it runs, and else what it would make. */
export function paintSmall(
  { c, width, height, colour, now }: Brush,
  samples: readonly Sample[],
  preview: readonly (number | null)[],
): void {
  const yOf = (value: number): number => 2 + (1 - value) * (height - 4);
  const runs = samples.at(-1)?.voices.some(({ made }) => made !== null) ?? false;
  if (!runs) {
    c.strokeStyle = colour('ink-3');
    c.beginPath();
    preview.forEach(
      (value, at) => value !== null && c.lineTo((at / (preview.length - 1)) * width, yOf(value)),
    );
    c.stroke();
    return;
  }
  const spanMs = 4000;
  const xOf = (at: number): number => width - 4 - ((now - at) / spanMs) * width;
  c.strokeStyle = c.fillStyle = colour('tawny');
  c.lineWidth = 1.5;
  const most = Math.max(...samples.map(({ voices }) => voices.length));
  for (let index = 0; index < most; index++) {
    let y: number | null = null;
    c.beginPath();
    for (const { at, voices } of samples) {
      const made = voices[index]?.made ?? null;
      if (made === null) {
        y = null;
        continue;
      }
      const before = y;
      y = yOf(made);
      if (before === null) c.moveTo(xOf(at), y);
      else c.lineTo(xOf(at), y);
    }
    c.stroke();
    if (y === null) continue;
    c.beginPath();
    c.arc(width - 4, y, 3, 0, 2 * Math.PI);
    c.fill();
  }
}
