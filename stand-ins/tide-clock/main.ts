/** The tide clock: a program of its own that plays timecode into the show, writes it as sound, and shows the timecode that it receives. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { connectStandIn, endWithParent, fromEnvironment } from '../live/connection.js';
import { createClock, createDrummer, createReader, createTempoReader, RATES, type Rate } from './clock.js';
import { makeReel } from './reel.js';

const PACE_MS = 2;
const SHOW_MS = 200;
const clock = createClock(Math.random);
const drummer = createDrummer(Math.random);
const reader = createReader();
const tempoReader = createTempoReader();
let shownAt = 0;

const now = (): number => performance.now();
const send = (messages: number[][]): void => {
  for (const bytes of messages) connection.midi(0, bytes);
};

type Ask =
  | { do: 'start' }
  | { do: 'stop' }
  | { do: 'locate'; to: string }
  | { do: 'rate'; rate: string }
  | { do: 'speed'; speed: number }
  | { do: 'jitter'; ms: number }
  | { do: 'gap'; ms: number }
  | { do: 'slow'; slow: boolean }
  | { do: 'reel'; gap: boolean }
  | { do: 'drum'; on: boolean }
  | { do: 'tempo'; bpm: number };

function asked(ask: unknown): void {
  const wish = ask as Ask;
  switch (wish.do) {
    case 'start':
      clock.start(now());
      break;
    case 'stop':
      send(clock.stop());
      break;
    case 'locate':
      if (/^\d\d:\d\d:\d\d[:;]\d\d$/.test(wish.to)) send(clock.locate(wish.to, now()));
      break;
    case 'rate':
      if (wish.rate in RATES) clock.setRate(wish.rate as Rate);
      break;
    case 'speed':
      if (wish.speed >= 0.25 && wish.speed <= 4) clock.setSpeed(wish.speed, now());
      break;
    case 'jitter':
      if (wish.ms >= 0 && wish.ms <= 50) {
        clock.setJitter(wish.ms);
        drummer.setJitter(wish.ms);
      }
      break;
    case 'gap':
      if (wish.ms >= 0 && wish.ms <= 10_000) clock.gap(wish.ms, now());
      break;
    case 'slow':
      clock.setSlow(wish.slow, now());
      break;
    case 'reel':
      writeReel(wish.gap);
      break;
    case 'drum':
      send(wish.on ? drummer.start(now()) : drummer.stop());
      break;
    case 'tempo':
      if (wish.bpm >= 20 && wish.bpm <= 400) drummer.setTempo(wish.bpm, now());
  }
  connection.changed();
}

const REEL_S = 20;
const REEL_GAP_MS = 400;
/** Where the sound was written last, or why it could not be. */
let reel: { path: string; error: string | null } | null = null;

/** Writes what it would play from here on as a sound file. */
function writeReel(gap: boolean): void {
  const { at, rate, speed, slow, jitterMs } = clock.state;
  const path = join(process.env['TAWNY_STATE'] ?? '.', 'reel.wav');
  const from = at.slice(0, '00:00:00:00'.length);
  const gapMs = gap ? REEL_GAP_MS : 0;
  try {
    writeFileSync(path, makeReel({ from, rate, speed, slow, jitterMs, gapMs, seconds: REEL_S }, Math.random));
    reel = { path, error: null };
  } catch (error) {
    reel = { path, error: (error as Error).message };
  }
}

const connection = connectStandIn({
  name: 'tide-clock',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [{ kind: 'midi-inside', name: 'Tide clock', in: true, out: true }],
  asked,
  heard: (_, bytes) => void (tempoReader.hear(bytes, now()) || reader.hear(bytes)),
  state: () => ({
    ...clock.state,
    ...drummer.state,
    reel,
    received: { ...reader.state, bpm: tempoReader.tempo(now()) },
  }),
});

let receivedBefore = 0;
setInterval(() => {
  send(clock.due(now()));
  send(drummer.due(now()));
  const receiving = reader.state.count !== receivedBefore || tempoReader.tempo(now()) !== null;
  if ((clock.state.playing || receiving) && now() - shownAt > SHOW_MS) {
    shownAt = now();
    receivedBefore = reader.state.count;
    connection.changed();
  }
}, PACE_MS);
endWithParent();
