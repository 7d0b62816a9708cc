/** What is said about signing in, both ways: the schemas of what the server is given, and the types of what it tells. */
import { z } from 'zod';
import { line } from '../show/text.js';
import { LONGEST_PASSPHRASE, SHORTEST_PASSPHRASE } from './passphrase.js';
import { roleSchema, type Role } from './roles.js';

export const LONGEST_NAME = 40;
/** A day, a week, a month: how long a session may last. */
export const SESSION_DAYS = [1, 7, 30] as const;
const NAME = 'A name has 1 to 40 characters.';
const ADDRESS = 'An address is one of this machine, like 192.168.1.20, or “all”.';
const TOO_LONG = `A passphrase has at most ${LONGEST_PASSPHRASE} characters.`;

export const personNameSchema = line(LONGEST_NAME, NAME).refine((name) => name.trim() !== '', NAME);
const chosenSchema = z
  .string()
  .min(SHORTEST_PASSPHRASE, `A passphrase has at least ${SHORTEST_PASSPHRASE} characters.`)
  .max(LONGEST_PASSPHRASE, TOO_LONG);

/** With a passphrase, or with a code of two minutes that an operator has shown. */
export const signInSchema = z.union([
  z.object({ name: personNameSchema, passphrase: z.string().max(LONGEST_PASSPHRASE, TOO_LONG) }),
  z.object({ name: personNameSchema, code: z.string().max(64) }),
]);
/** A new passphrase for a role; one is made where none is given. */
export const newPassphraseSchema = z.object({ passphrase: chosenSchema.optional() });
/** A person with a name and a passphrase of their own. */
export const newPersonSchema = z.object({
  name: personNameSchema,
  role: roleSchema,
  passphrase: chosenSchema.optional(),
});
export const codeSchema = z.object({ role: roleSchema });
export const openingSchema = z.object({
  /** Addresses of this machine, or `all`; none for this machine alone. */
  listen: z.array(z.union([z.literal('all'), z.ipv4(), z.ipv6()], ADDRESS)).max(16),
  /** Whether pages of this machine sign in too. */
  hereToo: z.boolean(),
  /** Whether other machines are served encrypted. */
  tls: z.boolean().default(false),
  /** Whether the page is announced on the network by DNS-SD. */
  announce: z.boolean().default(false),
  /** How long those who sign in from now on stay signed in. */
  sessionDays: z
    .literal(
      SESSION_DAYS,
      `A session lasts ${SESSION_DAYS.slice(0, -1).join(', ')} or ${SESSION_DAYS.at(-1)} days.`,
    )
    .default(1),
});
export type Opening = z.infer<typeof openingSchema>;

/** Who this browser is. */
export interface Me {
  /** Null: it has to sign in. */
  role: Role | null;
  /** Empty for a page of this machine that has not signed in. */
  name: string;
  /** True if it signed in, and can sign out. */
  signedIn: boolean;
}

/** A browser that has signed in. Times are milliseconds since 1970. */
export interface SessionSeen {
  id: string;
  name: string;
  role: Role;
  address: string;
  /** The browser, as it says of itself. */
  browser: string;
  since: number;
  until: number;
  /** Whether it is connected now. */
  here: boolean;
  /** Whether it is the one that asks. */
  mine: boolean;
}

export interface CertificateSeen {
  /** SHA-256, as browsers show it. */
  fingerprint: string;
  /** Milliseconds since 1970. */
  until: number;
  /** Whether it is one of our own, which browsers do not know until they are told. */
  ours: boolean;
}

/** How far the page is open, and to whom: for operators. */
export interface PeopleSeen {
  opening: Opening;
  /** What the start command has said, so that it can't be changed here. */
  fixed: { listen: boolean; tls: boolean };
  /** Where the page is open now. */
  addresses: { url: string; here: boolean }[];
  /** Addresses that it should be open under, with the reason why it is not. */
  troubles: { address: string; why: string }[];
  /** What it is announced as on the network, with what is wrong with that in words; null where it is not. */
  announced: { name: string; trouble: string | null } | null;
  /** The addresses of this machine. */
  own: string[];
  /** The certificate of the encrypted page; null where it is not encrypted. */
  certificate: CertificateSeen | null;
  sessions: SessionSeen[];
  people: { name: string; role: Role }[];
  /** Roles that have no passphrase yet. */
  without: Role[];
  guesses: { address: string; wrong: number; at: number }[];
}

/** Passphrases that are shown once. */
export type Shown = Partial<Record<Role, string>>;
