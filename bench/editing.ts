/** (f) Signals while a show is edited, compared with the same show at rest, in turns of half a second. */
import type { Show } from '@tawny-signal/core/show';
import { openTestStage } from '../scripts/test-stage.js';
import { openNumbered, type Numbered } from './numbered.js';

export interface EditingFigures {
  when: 'at rest' | 'while edited';
  sent: number;
  arrived: number;
  edits: number;
  medianUs: number;
  p99Us: number;
  worstUs: number;
}

const PER_SECOND = 1000;
const SLICE_MS = 500;
const SLICES = 40;
/** The time between the answer to an edit and the next one. A person is slower. */
const EDIT_EVERY_MS = 100;

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** @param mappings how many the show has */
export async function benchEditing(mappings: number): Promise<EditingFigures[]> {
  const stage = await openTestStage();
  let numbered: Numbered | null = null;
  const call = async <T>(
    method: string,
    path: string,
    body: unknown,
    type = 'application/json',
  ): Promise<T> => {
    const response = await fetch(`${stage.address}api/${path}`, {
      method,
      headers: { 'Content-Type': type },
      body: type === 'application/json' ? JSON.stringify(body) : (body as string),
    });
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return (await response.json()) as T;
  };
  try {
    const sentAt: number[] = [];
    const whenOf: EditingFigures['when'][] = [];
    const us: Record<EditingFigures['when'], number[]> = { 'at rest': [], 'while edited': [] };
    numbered = await openNumbered(stage, (arrived) =>
      us[whenOf[arrived]!].push((performance.now() - sentAt[arrived]!) * 1000),
    );
    const { say, warmUp } = numbered;
    const show = (await (await fetch(`${stage.address}api/files/show`)).json()) as Show;
    const [first] = show.mappings;
    const more = Array.from({ length: mappings - show.mappings.length }, (_, at) => ({
      ...first!,
      id: `more-${at}`,
      hear: {
        ...first!.hear,
        channels: [(at % 16) + 1, (at % 16) + 1],
        numbers: [(at >> 4) % 128, (at >> 4) % 128],
      },
    }));
    await call(
      'POST',
      'files/show',
      JSON.stringify({ ...show, mappings: [...show.mappings, ...more] }),
      'application/octet-stream',
    );

    // The show was loaded anew, and its line opens again.
    await warmUp();
    let edits = 0;
    let editing = false;
    /** Edits a different row each time, near the end of the show. */
    const edit = async (): Promise<void> => {
      const at = Math.floor(mappings / 2) + (edits % Math.floor(mappings / 10));
      await call('PATCH', `mappings/more-${at}`, { name: `Edit ${edits++}` });
      await call('PATCH', `mappings/more-${at}`, { shape: { ...first!.shape, out: [0, edits % 100] } });
      edits++;
    };
    const editor = (async () => {
      for (;;) {
        if (edits < 0) return;
        if (editing) await edit();
        await wait(EDIT_EVERY_MS);
      }
    })();
    let number = 0;
    for (let slice = 0; slice < SLICES; slice++) {
      const when = slice % 2 === 0 ? 'at rest' : 'while edited';
      editing = when === 'while edited';
      const from = performance.now();
      for (let sent = 0; performance.now() - from < SLICE_MS;) {
        const due = Math.floor(((performance.now() - from) / 1000) * PER_SECOND);
        for (; sent < due; sent++) {
          number++;
          whenOf[number] = when;
          sentAt[number] = performance.now();
          say(number);
        }
        await wait(1);
      }
      await wait(100);
    }
    const made = edits;
    edits = -1_000_000;
    await editor;
    await wait(300);
    return (['at rest', 'while edited'] as const).map((when) => {
      const sorted = [...us[when]].sort((a, b) => a - b);
      const at = (part: number): number =>
        sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))]!;
      const sent = whenOf.filter((one) => one === when).length;
      return {
        when,
        sent,
        arrived: sorted.length,
        edits: when === 'at rest' ? 0 : made,
        medianUs: at(0.5),
        p99Us: at(0.99),
        worstUs: at(1),
      };
    });
  } finally {
    numbered?.close();
    await stage.stop();
  }
}
