/**
 * The certificate under which the page is encrypted: one that is given, or one of our own. Ours is signed by an authority of this machine alone, so that a
 * phone that trusts it goes on trusting it when the certificate is renewed, or the machine has another address.
 */
import { createPrivateKey, X509Certificate } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { generate } from 'selfsigned';

const DAY_MS = 24 * 3600_000;
const AUTHORITY_DAYS = 3650;
/** No browser takes one that is valid for longer than 398 days (the CA/Browser Forum's baseline requirements; from memory). */
const DAYS = 397;
/** It is renewed when less is left. */
const RENEW_DAYS = 30;

export interface Pair {
  cert: string;
  key: string;
}

export interface Certificate extends Pair {
  /** SHA-256, as browsers show it. */
  fingerprint: string;
  /** When it ends, in ms since 1970. */
  until: number;
  /** The certificate that a browser has to trust; null for one that was given. */
  authority: string | null;
}

/** Why a certificate can’t be used, in words. */
export class BadCertificate extends Error {}

const told = (pair: Pair, authority: string | null): Certificate => {
  const read = new X509Certificate(pair.cert);
  return { ...pair, fingerprint: read.fingerprint256, until: Date.parse(read.validTo), authority };
};

const isFor = (read: X509Certificate, name: string): boolean =>
  (isIP(name) === 0 ? read.checkHost(name) : read.checkIP(name)) !== undefined;

/** @throws BadCertificate if the files can't be used. @returns it, and those of the names that it is not for */
export function givenCertificate(
  files: Pair,
  names: readonly string[],
  now = Date.now(),
): { certificate: Certificate; notFor: string[] } {
  const [cert, key] = [files.cert, files.key].map((path) => {
    try {
      return readFileSync(path, 'utf8');
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      throw new BadCertificate(
        code === 'ENOENT' ? `There is no file ${path}.` : `${path} can’t be read: ${message}.`,
      );
    }
  }) as [string, string];
  const read = readCertificate(cert);
  if (!read)
    throw new BadCertificate(
      `${files.cert} is no certificate: it is a text that begins with BEGIN CERTIFICATE.`,
    );
  try {
    if (!read.checkPrivateKey(createPrivateKey(key))) throw new BadCertificate('');
  } catch {
    throw new BadCertificate(`${files.key} is not the private key of ${files.cert}.`);
  }
  const day = (text: string): string => new Date(text).toISOString().slice(0, 10);
  if (Date.parse(read.validTo) <= now)
    throw new BadCertificate(
      `The certificate ended on ${day(read.validTo)}. Get a new one, or use --tls alone.`,
    );
  if (Date.parse(read.validFrom) > now)
    throw new BadCertificate(
      `The certificate begins on ${day(read.validFrom)}. Is the clock of this machine right?`,
    );
  return { certificate: told({ cert, key }, null), notFor: names.filter((name) => !isFor(read, name)) };
}

/** Ours for these names and addresses: kept in a folder, and made anew when it ends soon or a name is missing. */
export async function ownCertificate(
  folder: string,
  names: readonly string[],
  now = Date.now(),
): Promise<Certificate> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const authority = await kept(folder, 'authority', now, () => true, makeAuthority);
  const made = await kept(
    folder,
    'page',
    now,
    (read) =>
      names.every((name) => isFor(read, name)) && read.checkIssued(new X509Certificate(authority.cert)),
    () => makePage(authority, names, now),
  );
  return told(made, authority.cert);
}

async function kept(
  folder: string,
  name: string,
  now: number,
  fits: (read: X509Certificate) => boolean,
  make: (now: number) => Promise<Pair>,
): Promise<Pair> {
  const [cert, key] = [join(folder, `${name}.cert.pem`), join(folder, `${name}.key.pem`)];
  if (existsSync(cert) && existsSync(key)) {
    const pair = { cert: readFileSync(cert, 'utf8'), key: readFileSync(key, 'utf8') };
    const read = readCertificate(pair.cert);
    if (read && Date.parse(read.validTo) - now > RENEW_DAYS * DAY_MS && fits(read)) return pair;
  }
  const pair = await make(now);
  writeFileSync(key, pair.key, { mode: 0o600 });
  writeFileSync(cert, pair.cert);
  return pair;
}

/** @returns null for what is no certificate: a file of ours that is broken is made anew */
function readCertificate(text: string): X509Certificate | null {
  try {
    return new X509Certificate(text);
  } catch {
    return null;
  }
}

async function makeAuthority(now: number): Promise<Pair> {
  const made = await generate([{ name: 'commonName', value: `Tawny Signal on ${hostname()}` }], {
    keyType: 'ec',
    algorithm: 'sha256',
    notBeforeDate: new Date(now - DAY_MS),
    notAfterDate: new Date(now + AUTHORITY_DAYS * DAY_MS),
    extensions: [
      { name: 'basicConstraints', cA: true, critical: true },
      { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
    ],
  });
  return { cert: made.cert, key: made.private };
}

async function makePage(ca: Pair, names: readonly string[], now: number): Promise<Pair> {
  const made = await generate([{ name: 'commonName', value: 'Tawny Signal' }], {
    ca,
    keyType: 'ec',
    algorithm: 'sha256',
    notBeforeDate: new Date(now - DAY_MS),
    notAfterDate: new Date(now + (DAYS - 1) * DAY_MS),
    extensions: [
      { name: 'basicConstraints', cA: false, critical: true },
      { name: 'keyUsage', digitalSignature: true, critical: true },
      { name: 'extKeyUsage', serverAuth: true },
      {
        name: 'subjectAltName',
        altNames: names.map((name) =>
          isIP(name) === 0 ? { type: 2 as const, value: name } : { type: 7 as const, ip: name },
        ),
      },
    ],
  });
  return { cert: made.cert, key: made.private };
}
