/** The certificates that are made and taken, checked by Node's own TLS (OpenSSL), which shares no code with the package that makes them. */
import { X509Certificate } from 'node:crypto';
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer, get } from 'node:https';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { givenCertificate, ownCertificate } from './certificate.js';

const DAY_MS = 24 * 3600_000;
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-tls-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('a client that trusts the authority is served under each name, and under no other', async () => {
  const made = await ownCertificate(join(folder, 'a'), ['stage', 'stage.local', '127.0.0.1', '127.0.0.2']);
  const server = createServer(made, (_, response) => response.end('here'));
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  const ask = (servername: string, ca?: string): Promise<string> =>
    new Promise((done) =>
      get(
        { host: '127.0.0.1', port, servername, agent: false, ...(ca && { ca }) },
        (response) => void response.on('data', (part: Buffer) => done(String(part))),
      ).on('error', (error: NodeJS.ErrnoException) => done(error.code ?? 'failed')),
    );
  expect(await ask('stage.local', made.authority!)).toBe('here');
  expect(await ask('127.0.0.1', made.authority!)).toBe('here');
  expect(await ask('another.local', made.authority!)).toBe('ERR_TLS_CERT_ALTNAME_INVALID');
  expect(await ask('stage.local')).toMatch(/UNABLE_TO_VERIFY|SELF_SIGNED/);
  server.close();
  server.closeAllConnections();
});

test('it is kept; a new name or a near end makes another, by the same authority', async () => {
  const at = join(folder, 'b');
  const first = await ownCertificate(at, ['127.0.0.1']);
  expect((await ownCertificate(at, ['127.0.0.1'])).fingerprint).toBe(first.fingerprint);
  const named = await ownCertificate(at, ['127.0.0.1', '10.0.0.7']);
  expect(named.fingerprint).not.toBe(first.fingerprint);
  const later = await ownCertificate(at, ['127.0.0.1'], Date.now() + 380 * DAY_MS);
  expect(later.fingerprint).not.toBe(named.fingerprint);
  expect(later.authority).toBe(first.authority);
  const read = new X509Certificate(first.cert);
  expect(Date.parse(read.validTo) - Date.parse(read.validFrom)).toBeLessThanOrEqual(398 * DAY_MS);
  for (const name of ['authority', 'page'])
    expect(statSync(join(at, `${name}.key.pem`)).mode & 0o077).toBe(0);
});

test('files that are given are taken, or refused in words', async () => {
  const { cert, key } = await ownCertificate(join(folder, 'c'), ['stage.example']);
  const other = await ownCertificate(join(folder, 'd'), ['stage.example']);
  const put = (name: string, text: string): string => {
    writeFileSync(join(folder, name), text);
    return join(folder, name);
  };
  const files = { cert: put('cert', cert), key: put('key', key) };
  expect(givenCertificate(files, ['stage.example']).notFor).toEqual([]);
  expect(givenCertificate(files, ['stage.example', '10.0.0.7']).notFor).toEqual(['10.0.0.7']);
  const refused = (change: Partial<typeof files>, now?: number) => () =>
    givenCertificate({ ...files, ...change }, [], now);
  expect(refused({ cert: join(folder, 'none') })).toThrow('There is no file');
  expect(refused({ cert: folder })).toThrow('can’t be read');
  expect(refused({ cert: put('text', 'hello') })).toThrow('is no certificate');
  expect(refused({ key: put('other', other.key) })).toThrow('is not the private key');
  expect(refused({ key: put('nokey', 'hello') })).toThrow('is not the private key');
  expect(refused({}, Date.now() + 500 * DAY_MS)).toThrow(/^The certificate ended on \d{4}-/);
  expect(refused({}, Date.now() - 30 * DAY_MS)).toThrow(/^The certificate begins on \d{4}-/);
});
