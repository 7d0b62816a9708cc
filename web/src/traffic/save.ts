/** Writes traffic to files. */
import { writeMidiFile, type ScoreTrack } from '@tawny-signal/core/midi/file';
import { isChannelSignal } from '@tawny-signal/core/signal';
import type { Show } from '@tawny-signal/core/show';
import type { Passing } from '../live/traffic-log';
import { hexOf, lineName, signalsIn, wordsOf } from './words';

export type SaveFormat = 'jsonl' | 'csv' | 'mid';

export interface SavedFile {
  name: string;
  type: string;
  content: string | Uint8Array;
}

const iso = (at: number): string => new Date(at).toISOString();

/** Writes one JSON object a line. `cause` is the `seq` of the message that caused it. */
function jsonLines(records: readonly Passing[], show: Show): string {
  return records
    .map((record) => {
      const { seq, cause, later, at, direction } = record;
      const line = lineName(show, record.lineId);
      return `${JSON.stringify({ seq, cause, later, at: iso(at), way: direction, line, message: wordsOf(record, show), bytes: hexOf(record) })}\n`;
    })
    .join('');
}

/** Writes a field of a CSV file, quoted if necessary (RFC 4180). What a spreadsheet would run as a formula becomes text. */
function csvField(text: string): string {
  const safe = /^[=+@-]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

function csv(records: readonly Passing[], show: Show): string {
  const rows = records.map((record) => [
    iso(record.at),
    record.direction,
    lineName(show, record.lineId),
    wordsOf(record, show),
    hexOf(record),
  ]);
  return [['time', 'way', 'line', 'message', 'bytes'], ...rows]
    .map((row) => `${row.map(csvField).join(',')}\r\n`)
    .join('');
}

const TEMPO = 120;
const TICKS_PER_BEAT = 480;
const TICKS_PER_MS = (TICKS_PER_BEAT * TEMPO) / 60_000;

/** Writes a MIDI file with a track for each line. Channel messages and whole system-exclusive ones are included. */
function midi(records: readonly Passing[], show: Show): Uint8Array {
  const tracks = new Map<string, ScoreTrack>();
  const start = records[0]?.at ?? 0;
  for (const record of records) {
    if (record.direction !== 'in' && record.direction !== 'out') continue;
    for (const signal of signalsIn(record, show)) {
      if (!isChannelSignal(signal) && (signal.kind !== 'sysex' || record.length > record.bytes.length))
        continue;
      const track = tracks.get(record.lineId) ?? { name: lineName(show, record.lineId), events: [] };
      tracks.set(record.lineId, track);
      track.events.push({ tick: Math.round((record.at - start) * TICKS_PER_MS), signal });
    }
  }
  return writeMidiFile([...tracks.values()], TEMPO, TICKS_PER_BEAT);
}

/** @param records the oldest first */
export function saveTraffic(format: SaveFormat, records: readonly Passing[], show: Show): SavedFile {
  const name = `traffic-${iso(records.at(-1)?.at ?? 0)
    .slice(0, 19)
    .replaceAll(':', '-')}.${format}`;
  switch (format) {
    case 'jsonl':
      return { name, type: 'application/jsonl', content: jsonLines(records, show) };
    case 'csv':
      return { name, type: 'text/csv', content: csv(records, show) };
    case 'mid':
      return { name, type: 'audio/midi', content: midi(records, show) };
  }
}

/** Downloads a file. */
export function download({ name, type, content }: SavedFile): void {
  const url = URL.createObjectURL(new Blob([content as BlobPart], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
