/** Who may in: every route and every message, as nobody, onlooker, caller and operator, through a second loopback address as the other machine. */
import { readFileSync, statSync } from 'node:fs';
import { request, type IncomingHttpHeaders } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import WebSocket from 'ws';
import type { FromServer, HeldSeen } from '@tawny-signal/core/live/messages';
import { HTTP_NEEDS, httpNeed, LIVE_NEEDS } from '@tawny-signal/core/people/needs';
import type { Me, PeopleSeen, Shown } from '@tawny-signal/core/people/people';
import { may, ROLES, type Role } from '@tawny-signal/core/people/roles';
import { makeSend } from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';

/** Loopback too, and yet not the address that needs no sign-in. */
const OTHER = '127.0.0.2';

let stage: TestStage;
let cookies: Record<Role, string>;

beforeAll(async () => {
  stage = await openTestStage({ listen: [OTHER] });
  cookies = {
    onlooker: await signedIn('onlooker'),
    caller: await signedIn('caller'),
    operator: await signedIn('operator'),
  };
}, 240_000);
afterAll(() => stage.stop(), 120_000);

interface Answer {
  status: number;
  headers: IncomingHttpHeaders;
  text: string;
}

interface Ask {
  headers?: Record<string, string>;
  body?: unknown;
  /** The address that is asked, and the one that asks. */
  at?: string;
  from?: string;
}

/** fetch may set neither Host nor Origin. */
function ask(
  method: string,
  path: string,
  { headers = {}, body, at = OTHER, from = '127.0.0.9' }: Ask = {},
): Promise<Answer> {
  const sends = body !== undefined && method !== 'GET' && method !== 'DELETE';
  return new Promise((done, fail) => {
    const asked = request(
      {
        host: at,
        localAddress: from,
        agent: false,
        port: stage.port,
        method,
        path,
        headers: { ...(sends && { 'Content-Type': 'application/json' }), ...headers },
      },
      (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (part: string) => (text += part));
        response.on('end', () => done({ status: response.statusCode!, headers: response.headers, text }));
      },
    );
    asked.on('error', fail);
    asked.end(sends ? JSON.stringify(body) : undefined);
  });
}

const signIn = (name: string, passphrase: string, from = '127.0.0.9'): Promise<Answer> =>
  ask('POST', '/api/people/sign-in', { body: { name, passphrase }, from });

const cookieOf = ({ headers }: Answer): string => headers['set-cookie']?.[0]?.split(';')[0] ?? '';

async function signedIn(role: Role, name = `${role} Mara`): Promise<string> {
  const answer = await signIn(name, stage.passphrases[role]!);
  expect(answer.status).toBe(200);
  return cookieOf(answer);
}

const as = (role: Role): Ask => ({ headers: { Cookie: cookies[role] } });

interface Live {
  socket: WebSocket;
  said: FromServer[];
  closed: Promise<number>;
}

async function live(headers: Record<string, string>, at = OTHER): Promise<Live> {
  const socket = new WebSocket(`ws://${at}:${stage.port}/live`, { headers });
  const said: FromServer[] = [];
  socket.on('message', (data, isBinary) => {
    if (!isBinary) said.push(JSON.parse(String(data)) as FromServer);
  });
  socket.on('error', () => undefined);
  const closed = new Promise<number>((done) => socket.on('close', done));
  await new Promise<void>((done) => {
    socket.on('open', () => done());
    socket.on('close', () => done());
  });
  return { socket, said, closed };
}

/** The routes as the server itself describes them. */
async function routes(): Promise<{ method: string; path: string }[]> {
  const { text } = await ask('GET', '/api/docs-json', { at: '127.0.0.1' });
  const { paths } = JSON.parse(text) as { paths: Record<string, Record<string, unknown>> };
  return Object.entries(paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => ({
      method: method.toUpperCase(),
      path: path.replace(/\{(\w+)\}/g, ':$1'),
    })),
  );
}

test('every route is in the table, and the table has no other', async () => {
  const all = (await routes()).map(({ method, path }) => `${method} ${path}`);
  expect(all.length).toBeGreaterThan(80);
  expect(Object.keys(HTTP_NEEDS).filter((key) => !all.includes(key))).toEqual([]);
  expect(all.filter((key) => !Object.hasOwn(HTTP_NEEDS, key))).toEqual([]);
});

const concrete = (path: string): string => path.replace(/:\w+/g, 'no-such-row');

async function walk(role: Role): Promise<void> {
  const who = { role, standIn: false };
  for (const { method, path } of await routes()) {
    const need = httpNeed(method, path, {})!;
    if (need === 'nobody') continue;
    const { status } = await ask(method, concrete(path), { ...as(role), body: {} });
    const refused = status === 401 || status === 403;
    expect({ method, path, refused }).toEqual({ method, path, refused: !may(who, need) });
    expect({ method, path, status }).not.toEqual({ method, path, status: 500 });
  }
}

describe('every route, asked by', () => {
  test('nobody: 401 for all but signing in', async () => {
    for (const { method, path } of await routes()) {
      if (httpNeed(method, path, {}) === 'nobody') continue;
      const { status } = await ask(method, concrete(path), { body: {} });
      expect({ method, path, status }).toEqual({ method, path, status: 401 });
    }
    expect((await ask('GET', '/api/docs-json')).status).toBe(401);
    for (const path of ['/API/docs-json', '/api/Docs', '/Api/show', '/api/people/'])
      expect({ path, status: (await ask('GET', path)).status }).toEqual({ path, status: 401 });
    expect((await ask('GET', '/api/people/me')).text).toBe('{"role":null,"name":"","signedIn":false}');
  });

  test.each(['onlooker', 'caller'] as const)('%s: 403 exactly where the role is not enough', walk);

  test('a caller: calls, and switches banks, and edits nothing', async () => {
    const banks = (JSON.parse((await ask('GET', '/api/show', as('caller'))).text) as { show: Show }).show
      .banks;
    const bank = `/api/banks/${banks[0]!.id}`;
    const put = async (path: string, method: string, body: object): Promise<number> =>
      (await ask(method, path, { ...as('caller'), body })).status;
    expect(await put(bank, 'PATCH', { on: true })).toBe(200);
    expect(await put(bank, 'PATCH', { name: 'Mine' })).toBe(403);
    expect(await put('/api/desk/order', 'POST', { do: 'standBy', id: 'storm', catchUp: false })).toBe(200);
    expect(await put('/api/desk/order', 'POST', { do: 'tryNext' })).toBe(403);
    expect(await put('/api/desk/panic', 'POST', {})).toBe(200);
    expect(await put('/api/desk/armed', 'PUT', { armed: false })).toBe(403);
  });
});

/** What a page says that shows who is everywhere. */
const LISTING = { page: 'feed0123', name: '', path: '/people', field: null, hidden: false, lists: true };

test('a connection whose machine says nothing any more is ended, and is not here any more', async () => {
  const watcher = await live({}, '127.0.0.1');
  watcher.socket.send(JSON.stringify({ t: 'here', ...LISTING }));
  const silent = new WebSocket(`ws://${OTHER}:${stage.port}/live`, {
    headers: { Cookie: cookies.caller },
    autoPong: false,
  });
  silent.on('error', () => undefined);
  const closed = new Promise<void>((done) => silent.on('close', () => done()));
  await new Promise<void>((done) => silent.on('open', () => done()));
  silent.send(
    JSON.stringify({ t: 'here', page: 'beef0123', name: '', path: '/prompt', field: null, hidden: false }),
  );
  let id = -1;
  await until(() => {
    const told = watcher.said.flatMap((one) => (one.t === 'here' ? one.changed : []));
    id = told.find(({ path, role }) => path === '/prompt' && role === 'caller')?.id ?? -1;
    return id >= 0;
  }, 'it is here');
  await closed;
  await until(() => watcher.said.some((one) => one.t === 'here' && one.gone.includes(id)), 'it is gone');
  expect(watcher.socket.readyState).toBe(WebSocket.OPEN);
  watcher.socket.terminate();
});

describe('the live connection', () => {
  const MESSAGES: Record<keyof typeof LIVE_NEEDS, object> = {
    clock: { sent: 1 },
    here: { page: '0123abcd', name: '', path: '/prompt', field: null, hidden: false },
    watchMotions: { on: true },
    ports: { ports: [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }] },
    try: { mappingId: 'storm-go', pressed: true },
    tryLine: {
      lineId: 'water',
      send: makeSend({ kind: 'note', lineId: null, channel: 1, number: 60 }),
      pressed: true,
    },
    toStandIn: { name: 'water-screen', ask: {} },
    standIn: { name: 'a stranger', state: 1 },
  };
  const refusals = (): string => readFileSync(join(stage.state, 'logs/server.log'), 'utf8');

  /** The status with which it is refused before it is opened (RFC 6455, 4.2.2: anything but 101). */
  const refusedWith = (headers: object, at = OTHER): Promise<number> =>
    new Promise((done, fail) => {
      const socket = new WebSocket(`ws://${at}:${stage.port}/live`, { headers: { ...headers } });
      socket.on('unexpected-response', (_, { statusCode }) => {
        done(statusCode!);
        socket.terminate();
      });
      socket.on('open', () => fail(new Error('it was opened')));
      socket.on('error', () => undefined);
    });

  test('is refused before it is opened: for nobody, for a cookie that is none, and for a page from elsewhere', async () => {
    expect(await refusedWith({})).toBe(401);
    expect(await refusedWith({ Cookie: cookies.caller.replace(/=.{6}/, '=000000') })).toBe(401);
    const foreign = { Cookie: cookies.operator, Origin: 'http://elsewhere.example' };
    expect(await refusedWith(foreign)).toBe(403);
    expect(await refusedWith({ Origin: 'http://elsewhere.example' }, '127.0.0.1')).toBe(403);
  });

  test.each(ROLES)('%s: messages that the role may not send are refused', async (role) => {
    const who = { role, standIn: false };
    for (const [t, message] of Object.entries(MESSAGES)) {
      const need = LIVE_NEEDS[t as keyof typeof LIVE_NEEDS];
      const { socket, said } = await live({ Cookie: cookies[role] });
      const before = refusals().split(`${t}, which ${role}s may not`).length;
      socket.send(JSON.stringify({ t, ...message }));
      // What is said after it is answered after it.
      socket.send(JSON.stringify({ t: 'clock', sent: 7 }));
      await until(() => said.some((one) => one.t === 'clock' && one.sent === 7), `${t} was heard`);
      const isRefused = (): boolean => refusals().split(`${t}, which ${role}s may not`).length > before;
      if (may(who, need)) expect(isRefused()).toBe(false);
      else await until(isRefused, `${t} of ${role} is refused`);
      socket.terminate();
    }
  });

  test('a page that is read from afar is told nothing of what passes, until it is another page', async () => {
    const page = { page: 'beef0123', name: '', field: null, hidden: false };
    const far = await live({ Cookie: cookies.onlooker });
    const near = await live({ Cookie: cookies.onlooker });
    near.socket.send(JSON.stringify({ t: 'here', ...LISTING }));
    const batches = { far: 0, near: 0 };
    far.socket.on('message', (_, isBinary) => (batches.far += Number(isBinary)));
    near.socket.on('message', (_, isBinary) => (batches.near += Number(isBinary)));
    const go = (path: string): void => far.socket.send(JSON.stringify({ t: 'here', ...page, path }));
    const isAt = (path: string): boolean =>
      near.said.some((one) => one.t === 'here' && one.changed.some((other) => other.path === path));
    go('/afar');
    await until(() => isAt('/afar'), 'it is read from afar');
    const operator = await live({ Cookie: cookies.operator });
    operator.socket.send(JSON.stringify({ t: 'ports', ...MESSAGES.ports }));
    const play = (): void => operator.socket.send(Uint8Array.of(2, 0, 0x99, 36, 90));
    batches.far = batches.near = 0;
    await until(() => (play(), batches.near > 5), 'what passes is told');
    expect(batches.far).toBe(0);
    go('/prompt');
    await until(() => (play(), batches.far > 1), 'it is told to a page that shows it');
    for (const { socket } of [far, near, operator]) socket.terminate();
  });

  test('pads of a caller play nothing; those of an operator do', async () => {
    const watcher = await live({}, '127.0.0.1');
    /** @returns the connection: when it ends, what it holds is released */
    const play = async (role: Role, note: number): Promise<WebSocket> => {
      const { socket, said } = await live({ Cookie: cookies[role] });
      socket.send(JSON.stringify({ t: 'ports', ...MESSAGES.ports }));
      socket.send(Uint8Array.of(2, 0, 0x99, note, 90));
      socket.send(JSON.stringify({ t: 'clock', sent: 8 }));
      await until(() => said.some((one) => one.t === 'clock'), 'what it said was heard');
      return socket;
    };
    const pads = (): HeldSeen[] =>
      watcher.said.flatMap((one) => (one.t === 'held' ? (one.held['pier-pads']?.in ?? []) : []));
    const players = [await play('caller', 40), await play('onlooker', 41), await play('operator', 36)];
    await until(() => pads().length > 0, 'the pad of the operator is down');
    // What the others had played would have been told before.
    expect([...new Set(pads().map(({ number }) => number))]).toEqual([36]);
    for (const socket of [...players, watcher.socket]) socket.terminate();
  });
});

describe('pages from elsewhere', () => {
  test.each([
    ['a foreign origin', { Origin: 'http://evil.example' }],
    ['the origin of another port', { Origin: `http://${OTHER}:1` }],
    ['a foreign host', { Host: 'evil.example' }],
    ['the right host with another port', { Host: `${OTHER}:1` }],
    ['the address that needs no sign-in as host', { Host: '127.0.0.1' }],
    ['a page of another site, which says no origin', { 'Sec-Fetch-Site': 'cross-site' }],
  ])('are turned away: %s', async (_, headers) => {
    const all = { Cookie: cookies.operator, ...headers } as Record<string, string>;
    expect((await ask('GET', '/api/show', { headers: all })).status).toBe(403);
    const { closed, said } = await live(all);
    await closed;
    expect(said).toEqual([]);
  });

  test('a link from elsewhere opens the page, and nothing more', async () => {
    const link = { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate' };
    expect((await ask('GET', '/prompt', { headers: link })).status).toBe(200);
    expect((await ask('GET', '/api/show', { headers: { ...link, Cookie: cookies.operator } })).status).toBe(
      403,
    );
  });
});

describe('a body', () => {
  const deep = `{"do":${'['.repeat(900_000)}`;
  const post = (role: Role, path: string, body: string): Promise<Response> =>
    fetch(`http://${OTHER}:${stage.port}${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Cookie: cookies[role] },
      body,
    });

  test('is not read from somebody whose role may not, however deep it is', async () => {
    const answer = await post('onlooker', '/api/mappings', deep).catch(() => null);
    // The connection is closed while the rest is on its way, or the refusal is read.
    if (answer) expect(answer.status).toBe(403);
  });

  test.each(['caller', 'operator'] as const)(
    'of a %s that is nested too deep is refused before it is parsed',
    async (role) => {
      const answer = await post(role, '/api/desk/order', `{"do":${'['.repeat(30_000)}`);
      expect(answer.status).toBe(400);
      expect(await answer.text()).toContain('nested more than 64 deep');
    },
  );

  test('of a caller has at most 64 kB', async () => {
    expect(
      (await post('caller', '/api/desk/order', JSON.stringify({ do: 'go', x: 'x'.repeat(70_000) }))).status,
    ).toBe(413);
  });
});

describe('sessions', () => {
  test('the cookie can’t be read by a page, and goes to no other site', async () => {
    const answer = await signIn('Nils', stage.passphrases['onlooker']!);
    expect(answer.headers['set-cookie']![0]).toMatch(
      /^tawny-\d+=[\w-]{43}; Max-Age=86400; Path=\/; HttpOnly; SameSite=Strict$/,
    );
  });

  test('it lasts as long as operators have chosen', async () => {
    const opening = { listen: [OTHER], hereToo: false, tls: false, announce: false };
    const choose = (sessionDays: number): Promise<Answer> =>
      ask('PUT', '/api/people/opening', { ...as('operator'), body: { ...opening, sessionDays } });
    expect(await choose(7)).toMatchObject({ status: 200 });
    const answer = await signIn('Nils', stage.passphrases['onlooker']!);
    expect(answer.headers['set-cookie']![0]).toContain('; Max-Age=604800; ');
    const refused = await choose(400);
    expect(refused.status).toBe(422);
    expect(refused.text).toContain('A session lasts 1, 7 or 30 days.');
    await choose(1);
  });

  test('an old, a forged and an ended cookie let nobody in', async () => {
    const name = cookies.operator.split('=')[0]!;
    const me = async (Cookie: string): Promise<Me> =>
      JSON.parse((await ask('GET', '/api/people/me', { headers: { Cookie } })).text) as Me;
    expect(await me(`${name}=${'a'.repeat(43)}`)).toMatchObject({ role: null });
    expect(await me(`${name}=`)).toMatchObject({ role: null });
    const own = await signedIn('caller', 'Nils');
    expect(await me(own)).toEqual({ role: 'caller', name: 'Nils', signedIn: true });
    await ask('POST', '/api/people/sign-out', { headers: { Cookie: own } });
    expect(await me(own)).toMatchObject({ role: null });
  });

  test('one that is ended loses its connection at once, and what it held is released', async () => {
    const own = await signedIn('operator', 'Juno');
    const { socket, closed } = await live({ Cookie: own });
    const watcher = await live({}, '127.0.0.1');
    const down = (): number | undefined =>
      watcher.said.flatMap((one) => (one.t === 'held' ? [one.held['pier-pads']?.in.length ?? 0] : [])).at(-1);
    socket.send(
      JSON.stringify({
        t: 'ports',
        ports: [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }],
      }),
    );
    socket.send(Uint8Array.of(2, 0, 0x99, 37, 90));
    await until(() => down() === 1, 'a pad is down');
    const { sessions } = JSON.parse((await ask('GET', '/api/people', as('operator'))).text) as PeopleSeen;
    const session = sessions.find(({ name }) => name === 'Juno')!;
    expect(session).toMatchObject({ role: 'operator', here: true, mine: false });
    await ask('DELETE', `/api/people/sessions/${session.id}`, as('operator'));
    expect(await closed).toBe(4401);
    await until(() => down() === 0, 'the pad is released');
    expect((await ask('GET', '/api/show', { headers: { Cookie: own } })).status).toBe(401);
    watcher.socket.terminate();
  });

  test('a code lets one browser in, once', async () => {
    const { code } = JSON.parse(
      (await ask('POST', '/api/people/codes', { ...as('operator'), body: { role: 'caller' } })).text,
    ) as { code: string };
    const use = (): Promise<Answer> =>
      ask('POST', '/api/people/sign-in', { body: { name: 'Tablet', code }, from: '127.0.0.10' });
    expect(JSON.parse((await use()).text)).toMatchObject({ role: 'caller', name: 'Tablet' });
    expect((await use()).status).toBe(401);
  });

  test('a person has a name and a passphrase of their own, which nobody else can use', async () => {
    const made = await ask('POST', '/api/people', {
      ...as('operator'),
      body: { name: 'Iris', role: 'caller' },
    });
    const { caller } = JSON.parse(made.text) as Shown;
    expect((await signIn('Iris', stage.passphrases['operator']!, '127.0.0.11')).status).toBe(401);
    expect((await signIn('Somebody', caller!, '127.0.0.11')).status).toBe(401);
    const own = await signIn('iris', caller!);
    expect(JSON.parse(own.text)).toMatchObject({ role: 'caller' });
    // Neither a wrong passphrase nor a made-up code says which names are somebody’s.
    const wrong = (name: string, at: string): ReturnType<typeof ask> =>
      signIn(name, 'not the passphrase', at);
    expect((await wrong('Iris', '127.0.0.13')).text).toBe((await wrong('Nobody', '127.0.0.13')).text);
    const byCode = (name: string): ReturnType<typeof ask> =>
      ask('POST', '/api/people/sign-in', { from: '127.0.0.14', body: { name, code: 'x'.repeat(22) } });
    expect(await byCode('Iris')).toMatchObject({ status: 401, text: (await byCode('Nobody')).text });
    await ask('DELETE', '/api/people/Iris', as('operator'));
    expect((await ask('GET', '/api/show', { headers: { Cookie: cookieOf(own) } })).status).toBe(401);
    expect((await signIn('Iris', caller!, '127.0.0.11')).status).toBe(401);
  });

  test('a passphrase that is changed ends what came in with the old one', async () => {
    const own = await signedIn('onlooker', 'Paul');
    const short = await ask('PUT', '/api/people/passphrases/onlooker', {
      ...as('operator'),
      body: { passphrase: 'short' },
    });
    expect(short.text).toContain('at least 10 characters');
    await ask('PUT', '/api/people/passphrases/onlooker', {
      ...as('operator'),
      body: { passphrase: 'the tide turns at nine' },
    });
    expect((await ask('GET', '/api/show', { headers: { Cookie: own } })).status).toBe(401);
    expect((await signIn('Paul', 'the tide turns  at nine ')).status).toBe(200);
  });

  test('they outlive a restart', async () => {
    await stage.restart();
    expect((await ask('GET', '/api/show', as('operator'))).status).toBe(200);
  });
});

test('nothing secret is in the log, the show’s file or the page, and only this user reads what is kept', async () => {
  const secrets = [...Object.values(stage.passphrases), cookies.operator.split('=')[1]!];
  const log = readFileSync(join(stage.state, 'logs/server.log'), 'utf8');
  const file = (await ask('GET', '/api/files/show', as('operator'))).text;
  const page = (await ask('GET', '/', {})).text;
  const kept = readFileSync(join(stage.state, 'people.json'), 'utf8');
  for (const secret of secrets)
    for (const text of [log, file, page, kept]) expect(text).not.toContain(secret);
  expect(statSync(join(stage.state, 'people.json')).mode & 0o077).toBe(0);
});

test('guessing is slowed, and operators see it', async () => {
  const watcher = await live({ Cookie: cookies.operator });
  // Each wait is twice as long as the one before and counts from the answer, so that one of a dozen is met however slow this machine is.
  let refused = '';
  for (let n = 0; n < 12 && refused === ''; n++) {
    const { status, text } = await signIn('Mallory', 'not the passphrase', '127.0.0.12');
    expect([401, 429]).toContain(status);
    if (status === 429) refused = text;
  }
  expect(refused).toMatch(/Try again in \d+ second/);
  await until(
    () => watcher.said.some((one) => one.t === 'people' && one.guesses.some(({ wrong }) => wrong >= 3)),
    'the operator is told',
  );
  watcher.socket.terminate();
  // Who is signed in goes on, and this machine too.
  expect((await ask('GET', '/api/show', as('operator'))).status).toBe(200);
  expect((await ask('GET', '/api/show', { at: '127.0.0.1' })).status).toBe(200);
});

// Last of all: it undoes, adds, ends and restarts.
test('every route, asked by operator: none is refused', () => walk('operator'));
