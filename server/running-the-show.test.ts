/** Running the show through the API: what it names, the lock, the log, tables, and what is left after the power was cut. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import WebSocket from 'ws';
import type { LogEntry, Performance } from '@tawny-signal/core/cues/log';
import type { DeskState, FromServer, OrderSeen } from '@tawny-signal/core/live/messages';
import { writeMidiFile } from '@tawny-signal/core/midi/file';
import type { Group, Look } from '@tawny-signal/core/show/look';
import type { Moment } from '@tawny-signal/core/show/moment';
import type { Show } from '@tawny-signal/core/show';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';

let stage: TestStage;
beforeAll(async () => {
  stage = await openTestStage();
  await call('PATCH', 'show/settings', { guardMs: 0 });
}, 240_000);
afterAll(() => stage.stop(), 120_000);

/** Stand-ins that were stopped take a while to come back. */
const LONG = 40_000;

interface Problem {
  message: string;
  fields: { field: string; message: string }[];
}

async function call<T = Problem>(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<{ status: number; body: T }> {
  const init: RequestInit = { method, headers };
  if (body instanceof Uint8Array) {
    init.body = body as Uint8Array<ArrayBuffer>;
    init.headers = { ...headers, 'Content-Type': 'application/octet-stream' };
  } else if (body !== undefined) {
    init.headers = { ...headers, 'Content-Type': 'application/json' };
    init.body = JSON.stringify(body);
  }
  const response = await fetch(`${stage.address}api/${path}`, init);
  const text = await response.text();
  const isJson = response.headers.get('Content-Type')?.includes('json');
  return { status: response.status, body: (text === '' ? null : isJson ? JSON.parse(text) : text) as T };
}

const show = async (): Promise<Show> => (await call<{ show: Show }>('GET', 'show')).body.show;
const order = (act: object, headers = {}): Promise<unknown> => call('POST', 'desk/order', act, headers);
const desk = async (): Promise<DeskState> => (await call<DeskState>('GET', 'desk')).body;
const orderNow = async (): Promise<OrderSeen> => (await call<OrderSeen>('GET', 'desk/order')).body;
const fields = ({ body }: { body: Problem }): string[] =>
  body.fields.map(({ field, message }) => `${field}: ${message}`);

/** Hears what a browser is told first, until that is what is looked for. */
async function told<T>(pick: (message: FromServer) => T | null): Promise<T | null> {
  const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
  try {
    return await new Promise((done) => {
      socket.on('error', () => done(null));
      socket.on('message', (data, isBinary) => {
        const found = isBinary ? null : pick(JSON.parse((data as Buffer).toString('utf8')) as FromServer);
        if (found !== null) done(found);
      });
      setTimeout(() => done(null), 2000).unref();
    });
  } finally {
    socket.close();
  }
}

/** What the storm sends to. After a restart the stand-ins come back one after another. */
const OF_THE_STORM = ['lantern-rig', 'water-screen', 'fog-laser', 'bell-player', 'quay-stream'];
const linesOpen = (): Promise<boolean> =>
  until(
    () =>
      told((message) =>
        message.t === 'lineStates' ? OF_THE_STORM.every((id) => message.states[id]?.state === 'open') : null,
      ),
    'the lines of the storm are open',
  );

/** The levels that the lantern rig, a stand-in of its own that reads sACN with another package, has now. */
const rigLevel = (slot: number): Promise<number | null> =>
  told((message) =>
    message.t === 'standIn' && message.name === 'lantern-rig'
      ? ((message.state as { levels: number[] } | null)?.levels[slot - 1] ?? null)
      : null,
  );

describe('what moments name', () => {
  test('groups and looks are kept, changed and sent, and taken back by undo', async () => {
    const before = await show();
    const group = (await call<Group>('POST', 'groups', { name: 'Rail', slots: [[1, 12]] })).body;
    const look = (
      await call<Look>('POST', 'looks', { name: 'Warm', levels: [{ groupId: group.id, level: 77 }] })
    ).body;
    const sends = [{ kind: 'look', lineId: 'lantern-rig', lookId: look.id }];
    const moment = (await call<Moment>('POST', 'moments', { name: 'Warm up', sends })).body;
    await order({ do: 'try', id: moment.id });
    await until(async () => (await rigLevel(12)) === 77, 'the rig has the look');
    expect((await call<Group>('PATCH', `groups/${group.id}`, { slots: [[1, 2]] })).body.slots).toEqual([
      [1, 2],
    ]);
    await call('DELETE', `looks/${look.id}`);
    expect((await show()).looks).toEqual(before.looks);
    for (let i = 0; i < 5; i++) await call('POST', 'undo');
    expect((await show()).groups).toEqual(before.groups);
    await order({ do: 'stopAll' });
  });

  test('what a line has can be read, to make a look of it', async () => {
    await order({ do: 'try', id: 'storm-glass' });
    const levels = await until(async () => {
      const { body } = await call<number[]>('GET', 'desk/levels/lantern-rig');
      return body[39] === 255 ? body : null;
    }, 'the levels are told');
    expect(levels).toHaveLength(512);
    expect(levels.slice(39, 43)).toEqual([255, 255, 255, 255]);
    await order({ do: 'stopAll' });
  });

  test.each([
    ['groups', { name: '12 lamps', slots: [[1, 2]] }, 'name: The name of a group begins with a letter.'],
    ['groups', { name: 'Stern', slots: [] }, 'slots: Write the slots of the group, like 1-12, 20.'],
    [
      'looks',
      { name: 'Warm', levels: [] },
      'levels: Write slots and levels, like 1-12 at 50 %, 101 at full.',
    ],
    [
      'midi-files',
      { name: 'Broken', data: Buffer.from('MThd').toString('base64') },
      'data: This MIDI file breaks off in its header.',
    ],
    [
      'midi-files',
      { name: 'None', data: Buffer.from('hello there').toString('base64') },
      'data: This is not a MIDI file. Choose a Standard MIDI File, whose name usually ends in .mid.',
    ],
  ])('%s that are wrong are refused at their field: %j', async (table, body, said) => {
    const refused = await call('POST', table, body);
    expect(refused.status).toBe(422);
    expect(fields(refused)).toContain(said);
  });

  test('a MIDI file that breaks off in a track says where', async () => {
    const whole = writeMidiFile(
      [{ name: 'x', events: [{ tick: 0, signal: { kind: 'noteOn', channel: 0, number: 60, value: 9 } }] }],
      120,
    );
    const data = Buffer.from(whole.subarray(0, -3)).toString('base64');
    expect(fields(await call('POST', 'midi-files', { name: 'Cut', data }))[0]).toMatch(
      /^data: This MIDI file breaks off: track 2 should have \d+ bytes, and only \d+ are there\.$/,
    );
  });

  test('a moment that would come round to itself at once is refused; with a delay it may', async () => {
    const run = (momentId: string, delayMs: number): object => ({
      kind: 'send',
      value: 1,
      send: { kind: 'call', lineId: null, momentId, act: 'run', delayMs },
    });
    const refused = await call('PATCH', 'moments/fog-bank', { sends: [run('fog-bank', 0)] });
    expect(refused.status).toBe(422);
    expect(fields(refused)).toEqual([
      'sends.0.send.momentId: Cue 3 would call itself again without any delay. Choose another moment, or add a delay.',
    ]);
    expect((await call('PATCH', 'moments/fog-bank', { sends: [run('fog-bank', 500)] })).status).toBe(200);
    await call('POST', 'undo');
  });
});

describe('the running order', () => {
  const cues = async (): Promise<string[]> => (await show()).moments.map(({ cue }) => cue);

  test('takes rows that were copied, behind another one, with cues between', async () => {
    const [first, second] = (await show()).moments;
    const { body } = await call<Moment[]>('POST', 'moments/paste', {
      after: first!.id,
      moments: [
        { ...second, callers: [] },
        { ...second, name: 'Again', callers: [] },
      ],
    });
    expect(body.map(({ cue, name }) => `${cue} ${name}`)).toEqual(['1.5 Slack water', '1.6 Again']);
    expect((await cues()).slice(0, 4)).toEqual(['1', '1.5', '1.6', '2']);
    await call('POST', 'undo');
    expect((await cues()).slice(0, 2)).toEqual(['1', '2']);
  });

  // RFC 4180; what leaves is read by papaparse, as a spreadsheet would.
  test('goes out as a table and comes back, what is there changed and what is new where its cue belongs', async () => {
    const before = (await show()).moments;
    const table = (await call<string>('GET', 'files/moments.csv')).body;
    const { data } = Papa.parse<Record<string, string>>(table, { header: true, skipEmptyLines: true });
    expect(data.map(({ cue }) => cue)).toEqual(['1', '2', '3', '4', '4.5', '5']);
    expect(data[0]!['Lantern rig']).toBe('1-12 at 50 % fade 4 s');
    const same = await call('POST', 'files/moments.csv?look=true', Buffer.from(table));
    expect(same.body).toEqual({ added: 0, changed: 6, bad: [] });
    const text = 'cue,name,Lantern rig\n2,Slack,1 at full\n2.2,Gulls,2 at full\n3,,1 at 900\nx,,\n';
    const taken = await call('POST', 'files/moments.csv', Buffer.from(text));
    expect(taken.body).toMatchObject({ added: 1, changed: 1, bad: [{ line: 4 }, { line: 5 }] });
    const after = await show();
    expect(after.moments.map(({ cue }) => cue)).toEqual(['1', '2', '2.2', '3', '4', '4.5', '5']);
    const slack = after.moments[1]!;
    expect([slack.id, slack.name, slack.notes]).toEqual(['slack-water', 'Slack', before[1]!.notes]);
    expect(slack.sends.filter((one) => one.kind === 'levels')).toMatchObject([
      { levels: [{ slots: [1, 1], level: 255 }] },
    ]);
    await call('POST', 'undo');
    expect((await show()).moments).toEqual(before);
  });

  test('a table says to its page how much of it was read, and is given up when nobody waits for it', async () => {
    const TIDE = '71de71de';
    const cells = Array.from({ length: 40 }, (_, at) => `${at + 1} at ${at + 30} %`).join('; ');
    const rows = Array.from({ length: 9000 }, (_, at) => `${at + 10},Wave ${at},"${cells}"`);
    const table = Buffer.from(`cue,name,Lantern rig\n${rows.join('\n')}\n`);
    const partOf = async (page: string): Promise<number | null> =>
      (await call<{ part: number | null }>('GET', 'files/reading', undefined, { 'X-Page': page })).body.part;
    const stop = new AbortController();
    const looking = fetch(`${stage.address}api/files/moments.csv?look=true`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream', 'X-Page': TIDE },
      body: table,
      signal: stop.signal,
    });
    const seen = new Set<number>();
    const given = expect(looking).rejects.toThrow('abort');
    await until(async () => {
      const part = await partOf(TIDE);
      if (part !== null && part > 0 && part < 1) seen.add(part);
      return seen.size > 1;
    }, 'it is told more than once');
    expect([...seen]).toEqual([...seen].sort((a, b) => a - b));
    expect(await partOf('9a11500d')).toBeNull();
    stop.abort();
    await given;
    await until(async () => (await partOf(TIDE)) === null, 'it is given up');
    const small = await call('POST', 'files/moments.csv?look=true', Buffer.from('cue\n77\n'));
    expect(small.body).toEqual({ added: 1, changed: 0, bad: [] });
  });
});

describe('locked', () => {
  test('nothing can be edited, the show runs on, and it is locked still after a restart', async () => {
    await call('PUT', 'desk/locked', { locked: true });
    const before = await show();
    for (const [method, path, body] of [
      ['PATCH', 'moments/fog-bank', { name: 'x' }],
      ['POST', 'mappings', {}],
      ['POST', 'undo', undefined],
      ['PUT', 'desk/armed', { armed: false }],
    ] as const) {
      const refused = await call(method, path, body);
      expect([path, refused.status]).toEqual([path, 423]);
      expect(refused.body.message).toContain('The show is locked');
    }
    expect(await show()).toEqual(before);
    await order({ do: 'call', id: 'house-to-half' });
    await until(async () => (await orderNow()).standingBy === 'slack-water', 'it goes on');
    expect((await call('PATCH', 'banks/storm-glass', { act: 'off' })).status).toBe(200);
    expect((await call('PATCH', 'banks/storm-glass', { act: 'on' })).status).toBe(200);
    expect((await call('PATCH', 'banks/storm-glass', { name: 'x' })).status).toBe(423);
    await stage.restart();
    expect((await desk()).locked).toBe(true);
    await call('PUT', 'desk/locked', { locked: false });
    expect((await call('PATCH', 'moments/fog-bank', { notes: 'Slowly.' })).status).toBe(200);
  });

  test('a show that is safe is armed by it', async () => {
    await call('PUT', 'desk/armed', { armed: false });
    await call('PUT', 'desk/locked', { locked: true });
    expect(await desk()).toMatchObject({ locked: true, armed: true });
    await call('PUT', 'desk/locked', { locked: false });
  });
});

describe('the log', () => {
  const entries = async (id: string): Promise<LogEntry[]> =>
    (await call<LogEntry[]>('GET', `log/${id}`)).body;

  test(
    'says what was called, by whom or what, and what each line was sent',
    async () => {
      await linesOpen();
      const { body: night } = await call<Performance>('POST', 'log/begin', { name: 'First night' });
      await order(
        { do: 'call', id: 'house-to-half' },
        { 'X-Desk-Name': encodeURIComponent('Künstlerseite') },
      );
      await order({ do: 'call', id: 'storm-glass' });
      await order({ do: 'hold' });
      await order({ do: 'stopAll' });
      const wanted = await until(async () => {
        const all = await entries(night.id);
        const storm = all.find(({ momentId }) => momentId === 'storm-glass');
        return storm && storm.lines.length >= 4 && all.length >= 4 ? all : null;
      }, 'it is written down');
      expect(wanted.map(({ what, cue, askedBy }) => [what, cue, askedBy])).toEqual([
        ['called', '1', 'by hand at Künstlerseite'],
        ['called', '4', 'by hand'],
        ['held', '', 'by hand'],
        ['stoppedAll', '', 'by hand'],
      ]);
      const tallies = Object.fromEntries(
        wanted[1]!.lines.map(({ line, sent, failed }) => [line, [sent, failed]]),
      );
      expect(tallies['Lantern rig']).toEqual([4, 0]);
      expect(tallies['Water screen']).toEqual([1, 0]);
      const table = (await call<string>('GET', `log/${night.id}/table.csv`)).body;
      expect(Papa.parse<Record<string, string>>(table, { header: true }).data[1]).toMatchObject({
        what: 'called',
        cue: '4',
        name: 'Storm glass breaks',
        by: 'by hand',
        failed: '0',
      });
      await call('POST', 'log/end');
    },
    LONG,
  );

  test('begins with a call, not with a try, and says by which desk Panic was pressed', async () => {
    const running = async (): Promise<Performance | null> => (await desk()).performance;
    await call('POST', 'log/end');
    await order({ do: 'try', id: 'house-to-half' });
    await order({ do: 'standBy', id: 'house-to-half', catchUp: false });
    await order({ do: 'call', id: 'house-to-half' });
    const { id } = await until(running, 'a performance has begun');
    await call('POST', 'desk/panic', undefined, { 'X-Desk-Name': 'Stage%20left' });
    const all = await until(async () => {
      const list = await entries(id);
      return list.length >= 2 ? list : null;
    }, 'Panic is written down');
    expect(all.map(({ what, askedBy }) => [what, askedBy])).toEqual([
      ['called', 'by hand'],
      ['panic', 'by hand at Stage left'],
    ]);
    await call('POST', 'log/end');
  });

  test('says what a line could not take, and what was held back', async () => {
    const lines = (await show()).lines;
    await call('PATCH', 'lines/fog-laser', { ...lines.find(({ id }) => id === 'fog-laser'), port: 'Nobody' });
    await call('PATCH', 'lines/water-screen', { muted: true });
    const { body: night } = await call<Performance>('POST', 'log/begin', {});
    expect(night.name).toMatch(/^Performance of \d/);
    await order({ do: 'call', id: 'storm-glass' });
    const storm = await until(async () => {
      const all = await entries(night.id);
      const found = all.find(({ momentId }) => momentId === 'storm-glass');
      return found?.lines.some(({ line }) => line === 'Fog laser') ? found : null;
    }, 'it is written down');
    expect(storm.lines).toContainEqual({ line: 'Fog laser', sent: 0, heldBack: 0, failed: 1 });
    expect(storm.lines).toContainEqual({ line: 'Water screen', sent: 0, heldBack: 1, failed: 0 });
    await call('POST', 'undo');
    await call('POST', 'undo');
    await order({ do: 'stopAll' });
  });

  test('a performance is removed, and one that is not there is said so', async () => {
    const { performances } = (await call<{ performances: Performance[] }>('GET', 'log')).body;
    expect(performances.map(({ name }) => name)).toContain('First night');
    await call('DELETE', `log/${performances.at(-1)!.id}`);
    expect((await call('DELETE', `log/${performances.at(-1)!.id}`)).status).toBe(404);
    const left = (await call<{ performances: Performance[] }>('GET', 'log')).body.performances;
    expect(left).toHaveLength(performances.length - 1);
  });
});

describe('when the engine fails in the middle of a fade', () => {
  const fade = { kind: 'levels', lineId: 'lantern-rig', levels: [{ slots: [110, 110], level: 255 }] };

  async function failIn(afterRestart: string): Promise<void> {
    await call('PATCH', 'show/settings', { afterRestart });
    await order({ do: 'trySend', send: { ...fade, levels: [{ slots: [110, 110], level: 20 }] } });
    await until(async () => (await rigLevel(110)) === 20, 'it is at 20');
    const sends = [{ ...fade, fadeMs: 600_000 }];
    const long = (await call<Moment>('POST', 'moments', { name: 'Long', sends })).body;
    await order({ do: 'call', id: long.id });
    await until(async () => (await orderNow()).running.some(({ id }) => id === long.id), 'it runs');
    // The levels are told once a second.
    await until(
      async () => ((await call<number[]>('GET', 'desk/levels/lantern-rig')).body[109] ?? 0) >= 20,
      'the level is known',
    );
    const { engineRestarts } = await desk();
    await call('POST', 'desk/fail-engine');
    await until(async () => (await desk()).engineRestarts > engineRestarts, 'it was started again');
  }

  test(
    'the lights stay where they were',
    async () => {
      await failIn('left');
      await until(async () => (await orderNow()).running.length === 0, 'nothing runs');
      await order({ do: 'trySend', send: { ...fade, levels: [{ slots: [111, 111], level: 9 }] } });
      await until(async () => (await rigLevel(111)) === 9, 'another slot is set');
      const level = (await rigLevel(110))!;
      expect(level).toBeGreaterThanOrEqual(20);
      expect(level).toBeLessThan(30);
    },
    LONG,
  );

  test(
    'or are at their ends, where the show chooses so',
    async () => {
      await failIn('ended');
      await until(async () => (await rigLevel(110)) === 255, 'it is at its end');
    },
    LONG,
  );
});
