/** The score player: a program of its own that plays a MIDI file into the show. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { connectStandIn, endWithParent, fromEnvironment } from '../live/connection.js';
import { createPlayer } from './player.js';
import { readScore } from './score.js';

const PACE_MS = 4;
const SHOW_MS = 200;
const DEMO = new URL('../../score-player/lantern-pier.mid', import.meta.url);
/** Where a loaded file is stored for the next start. */
const folder = process.env['TAWNY_STATE'];
const keptFile = folder ? join(folder, 'score.mid') : null;
const keptName = folder ? join(folder, 'score.name') : null;

interface Loaded {
  name: string;
  score: ReturnType<typeof readScore>;
}

function loadFirst(): Loaded {
  if (keptFile && keptName && existsSync(keptFile) && existsSync(keptName)) {
    return { name: readFileSync(keptName, 'utf8'), score: readScore(readFileSync(keptFile)) };
  }
  return { name: 'lantern-pier.mid', score: readScore(readFileSync(DEMO)) };
}

let loaded = loadFirst();
let player = createPlayer(loaded.score);
let shownAt = 0;

const now = (): number => performance.now();
const send = (messages: number[][]): void => {
  for (const bytes of messages) connection.midi(0, bytes);
};

type Ask =
  | { do: 'start' }
  | { do: 'stop' }
  | { do: 'tempo'; tempo: number }
  | { do: 'load'; name: string; file: string };

function asked(ask: unknown): void {
  const wish = ask as Ask;
  switch (wish.do) {
    case 'start':
      player.start(now());
      break;
    case 'stop':
      send(player.stop(now()));
      break;
    case 'tempo':
      if (wish.tempo >= 20 && wish.tempo <= 400) player.setTempo(wish.tempo, now());
      break;
    case 'load': {
      const file = Buffer.from(wish.file, 'base64');
      send(player.stop(now()));
      loaded = { name: wish.name, score: readScore(file) };
      player = createPlayer(loaded.score);
      if (keptFile && keptName) {
        writeFileSync(keptFile, file);
        writeFileSync(keptName, wish.name);
      }
    }
  }
  connection.changed();
}

const connection = connectStandIn({
  name: 'score-player',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [{ kind: 'midi-inside', name: 'Score player', in: true, out: false }],
  asked,
  state: () => ({
    file: loaded.name,
    playing: player.playing,
    tempo: player.tempo,
    fileTempo: loaded.score.tempo,
    positionMs: player.positionMs(now()),
    durationMs: loaded.score.durationMs,
    messages: loaded.score.messages.length,
  }),
});

setInterval(() => {
  send(player.due(now()));
  if (player.playing && now() - shownAt > SHOW_MS) {
    shownAt = now();
    connection.changed();
  }
}, PACE_MS);
endWithParent();
