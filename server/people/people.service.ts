/** Who may in, and as what: passphrases, people, sessions, and how fast somebody may guess. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { createGuesses } from '@tawny-signal/core/people/guesses';
import type { Opening, PeopleSeen, SessionSeen, Shown } from '@tawny-signal/core/people/people';
import { ROLES, type Role } from '@tawny-signal/core/people/roles';
import { CONFIG, type Config } from '../config.js';
import { NotThere } from '../http/problems.js';
import { addressOf, isFromHere } from './addresses.js';
import { asker, type Somebody } from './asking.js';
import { NameTaken, NotRight, TooManyGuesses } from './people-problems.js';
import { openPeopleFile, type PeopleFile } from './people-file.js';
import { isSame, keepSecret, makePassphrase, makeToken } from './secrets.js';
import { createSessions, type Sessions } from './sessions.js';
import { createVerifier, isNamed, personNamed, sharedSalt, type Verifier } from './verifier.js';

const CODE_MS = 120_000;
/** The most codes that wait, and the most people. */
const MOST_CODES = 20;
const MOST_PEOPLE = 200;
/** Who is refused because many others guess is asked to come back after this. */
const FULL_WAIT_MS = 2000;
/** How often it is looked whose day is over. */
const LOOK_MS = 5000;
const BEARER = 'Bearer ';

interface Code {
  role: Role;
  until: number;
}

@Injectable()
export class PeopleService implements OnApplicationShutdown {
  private readonly log = new Logger('people');
  private readonly file: PeopleFile;
  private readonly signedIn: Sessions;
  private readonly guesses = createGuesses();
  private readonly codes = new Map<string, Code>();
  private readonly verifier: Verifier;
  private readonly looking: NodeJS.Timeout;
  /** Called when a session has ended, however. */
  ended: (sessionId: string) => void = () => undefined;
  /** Called when operators should look anew: somebody came, left, or guessed. */
  changed: () => void = () => undefined;

  constructor(@Inject(CONFIG) private readonly config: Config) {
    this.file = openPeopleFile(config.state, (why) =>
      this.log.error(`people.json could not be read and was put aside: all have to sign in anew. ${why}`),
    );
    this.verifier = createVerifier(this.file.kept);
    this.signedIn = createSessions(this.file.kept, (id) => this.ended(id));
    this.looking = setInterval(() => this.endOld(), LOOK_MS);
    this.looking.unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.looking);
  }

  /** How far the page is to be open: as the start command says, or else as it was chosen. */
  get opening(): Opening {
    const { opening } = this.file.kept;
    const { listen, tls } = this.config;
    return { ...opening, ...(listen && { listen: [...listen] }), tls: tls || opening.tls };
  }

  /** What the start command has said. */
  get fixed(): PeopleSeen['fixed'] {
    return { listen: this.config.listen !== null, tls: this.config.tls };
  }

  get people(): { name: string; role: Role }[] {
    return this.file.kept.people.map(({ name, role }) => ({ name, role }));
  }

  /** Roles that have no passphrase. */
  get without(): Role[] {
    return ROLES.filter((role) => !this.file.kept.passphrases[role]);
  }

  get wrongGuesses(): { address: string; wrong: number; at: number }[] {
    const now = performance.now();
    return this.guesses
      .seen(now)
      .map(({ address, wrong, last }) => ({ address, wrong, at: Date.now() - (now - last) }));
  }

  async open(opening: Opening): Promise<void> {
    this.file.kept.opening = opening;
    await this.file.save();
    this.changed();
  }

  /** Makes a passphrase for each role that has none. @returns them, to be shown once */
  async makeMissing(): Promise<Shown> {
    const shown: Shown = {};
    for (const role of this.without) shown[role] = await this.setPassphrase(role, makePassphrase());
    return shown;
  }

  /** Sets it, and ends the sessions of those who came in with the old one. @returns it, to be shown once */
  async setPassphrase(role: Role, passphrase = makePassphrase()): Promise<string> {
    this.file.kept.passphrases[role] = await keepSecret(passphrase, sharedSalt(this.file.kept, role));
    const named = new Set(this.file.kept.people.map(({ name }) => name.toLowerCase()));
    const mine = asker()?.sessionId;
    this.signedIn.endWhere(
      (one) => one.role === role && one.id !== mine && !named.has(one.name.toLowerCase()),
    );
    await this.file.save();
    this.changed();
    return passphrase;
  }

  /** A person with a passphrase of their own, in place of one of that name. @returns it, to be shown once */
  async setPerson(name: string, role: Role, passphrase = makePassphrase()): Promise<string> {
    const secret = await keepSecret(passphrase);
    const { kept } = this.file;
    const others = kept.people.filter((one) => !isNamed(one, name));
    if (others.length >= MOST_PEOPLE) throw new NameTaken(`There are ${MOST_PEOPLE} people already.`);
    kept.people = [...others, { name, role, secret }];
    this.signedIn.endWhere((one) => isNamed(one, name));
    await this.file.save();
    this.changed();
    return passphrase;
  }

  async removePerson(name: string): Promise<void> {
    const { kept } = this.file;
    if (!kept.people.some((one) => one.name === name))
      throw new NotThere('This person', 'Load the page again.');
    kept.people = kept.people.filter((one) => one.name !== name);
    this.signedIn.endWhere((one) => isNamed(one, name));
    await this.file.save();
    this.changed();
  }

  /** A code that lets one browser in within two minutes. */
  makeCode(role: Role): { code: string; until: number } {
    const now = Date.now();
    for (const [code, { until }] of this.codes) if (until <= now) this.codes.delete(code);
    if (this.codes.size >= MOST_CODES) this.codes.delete(this.codes.keys().next().value!);
    const code = makeToken().slice(0, 22);
    const until = now + CODE_MS;
    this.codes.set(code, { role, until });
    return { code, until };
  }

  /** @throws NotRight, TooManyGuesses. @returns who it is, after the cookie was set */
  async signIn(
    request: IncomingMessage,
    response: ServerResponse,
    given: { name: string } & ({ passphrase: string } | { code: string }),
  ): Promise<Somebody> {
    const address = addressOf(request);
    const waitMs = this.guesses.waitMs(address, performance.now());
    if (waitMs > 0) throw new TooManyGuesses(waitMs);
    if (this.verifier.isFull) throw new TooManyGuesses(FULL_WAIT_MS);
    this.guesses.begin(address, performance.now());
    let role: Role | null = null;
    try {
      role =
        'code' in given
          ? this.roleOfCode(given.code)
          : await this.verifier.roleOf(given.name, given.passphrase);
    } finally {
      this.guesses.answer(address, role !== null, performance.now());
    }
    if (role === null) {
      this.log.warn(`a wrong ${'code' in given ? 'code' : 'passphrase'} from ${address}`);
      this.changed();
      throw new NotRight('code' in given);
    }
    if ('code' in given) {
      // Only who has a right code is told that a name is somebody’s; the code can be used with another name.
      if (personNamed(this.file.kept, given.name))
        throw new NameTaken(`${given.name} has a passphrase of their own. Choose another name, or type it.`);
      this.codes.delete(given.code);
    }
    const session = this.signedIn.begin(request, response, given.name, role);
    await this.file.save();
    this.log.log(`${given.name} signed in as ${role} from ${address}`);
    this.changed();
    return { role, standIn: false, name: given.name, sessionId: session.id };
  }

  async signOut(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const session = this.signedIn.of(request);
    this.signedIn.forget(request, response);
    if (session) await this.end(session.id);
  }

  /** @returns who asks; null if they have to sign in */
  identify(request: IncomingMessage): Somebody | null {
    const session = this.signedIn.of(request);
    if (session) return { role: session.role, standIn: false, name: session.name, sessionId: session.id };
    const local = { role: 'operator', standIn: true, name: '', sessionId: null } as const;
    if (!isFromHere(request)) return null;
    if (!this.opening.hereToo) return local;
    const { authorization = '' } = request.headers;
    return authorization.startsWith(BEARER) && isSame(authorization.slice(BEARER.length), this.config.token)
      ? local
      : null;
  }

  /** @param here whether a session is connected now. @param mine the session that asks */
  sessions(here: (id: string) => boolean, mine: string | null): SessionSeen[] {
    return this.file.kept.sessions
      .map(({ id, name, role, address, browser, since, until }) => ({
        ...{ id, name, role, address, browser, since, until },
        here: here(id),
        mine: id === mine,
      }))
      .toReversed();
  }

  async end(id: string): Promise<void> {
    if (!this.signedIn.endWhere((one) => one.id === id))
      throw new NotThere('This session', 'Load the page again.');
    await this.file.save();
    this.changed();
  }

  /** Ends all sessions but one. */
  async endAll(but: string | null): Promise<void> {
    this.signedIn.endWhere(({ id }) => id !== but);
    await this.file.save();
    this.changed();
  }

  private endOld(): void {
    const now = Date.now();
    if (!this.signedIn.endWhere(({ until }) => until <= now)) return;
    this.changed();
    this.file.save().catch((error: unknown) => this.log.error(error));
  }

  private roleOfCode(given: string): Role | null {
    const found = this.codes.get(given);
    return found && found.until > Date.now() ? found.role : null;
  }
}
