/** Writes the demo's score, stand-ins/score-player/lantern-pier.mid: bells, a bass, drums, and a tide that comes and goes. */
import { writeFileSync } from 'node:fs';
import { writeMidiFile, type ScoreTrack } from '@tawny-signal/core/midi/file';

const TICKS = 480;
const BARS = 8;

/** @param beat from the file's start */
function note(
  track: ScoreTrack,
  beat: number,
  beats: number,
  channel: number,
  number: number,
  velocity: number,
): void {
  track.events.push({
    tick: Math.round(beat * TICKS),
    signal: { kind: 'noteOn', channel, number, value: velocity },
  });
  const tick = Math.round((beat + beats) * TICKS) - 10;
  track.events.push({ tick, signal: { kind: 'noteOff', channel, number, value: 64 } });
}

const bells: ScoreTrack = { name: 'Bells', events: [] };
const bass: ScoreTrack = { name: 'Pier bass', events: [] };
const drums: ScoreTrack = { name: 'Drums', events: [] };
const tide: ScoreTrack = { name: 'Tide', events: [] };
const FIGURE = [55, 62, 67, 74, 71, 67, 62, 79];
/** Notes of a drum kit (General MIDI 1, percussion key map). */
const KICK = 36;
const RIM = 37;
const CYMBAL = 49;
const DRUMS = 9;
const ROOTS = [31, 31, 36, 34];

for (let bar = 0; bar < BARS; bar++) {
  FIGURE.forEach((pitch, step) => {
    if ((bar + step) % 5 === 4) return; // the bells breathe
    note(bells, bar * 4 + step / 2, 0.5, 2, pitch, 58 + ((step * 23 + bar * 11) % 60));
  });
  for (const beat of [0, 2]) note(drums, bar * 4 + beat, 0.25, DRUMS, KICK, 104);
  note(drums, bar * 4 + 3, 0.25, DRUMS, RIM, 84);
  if (bar % 2 === 0) note(drums, bar * 4, 1, DRUMS, CYMBAL, 92);
  note(bass, bar * 4, 3.5, 1, ROOTS[bar % ROOTS.length]!, 88);
  for (let step = 0; step < 16; step++) {
    const value = Math.round(63.5 - 55 * Math.cos((2 * Math.PI * (bar * 16 + step)) / (BARS * 16)));
    tide.events.push({
      tick: (bar * 4 + step / 4) * TICKS,
      signal: { kind: 'controlChange', channel: 0, number: 1, value },
    });
  }
}

const path = new URL('../stand-ins/score-player/lantern-pier.mid', import.meta.url);
writeFileSync(path, writeMidiFile([bells, bass, drums, tide], 112, TICKS));
