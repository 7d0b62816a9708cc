/**
 * The engine: a process of its own, with the lines, the show that it plays and what it holds. It is loaded before it is needed, and begins when the
 * launcher says so: with the show that lies in its folder, before and without the web server and the database.
 */
import { randomUUID } from 'node:crypto';
import { pino } from 'pino';
import { keptCid, LIVE_FILE, readKept, SHOW_FILE, writeKept } from './kept-state.js';
import { startKeeper } from './keeper.js';
import { createIntakes } from './intake.js';
import { openLedgerPipe, type LedgerEntry } from './ledger-pipe.js';
import { tellLauncher } from './launcher.js';
import { openLink, type LinkEnd } from './link.js';
import { getReady } from './spare.js';
import { createSwitchboard, type Switchboard } from './switchboard.js';

/** What the launcher says. */
type FromLauncher = { t: 'begin'; owed: LedgerEntry[] };

/** What waits at the lines is passed on first: to tell a server of a large show takes a tenth of a second. */
const SIGNALS_FIRST_MS = 100;

/** How often the launcher is told that the engine is not stuck. */
const ALIVE_MS = 500;

function wanted(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is missing: the engine is started by npm start`);
  return value;
}

const log = pino({ level: process.env['TAWNY_LOG'] ?? 'info', base: null }).child({ who: 'engine' });
const folder = wanted('TAWNY_ENGINE_FOLDER');
const socket = wanted('TAWNY_ENGINE_SOCKET');
const ledgerFd = process.env['TAWNY_LEDGER_FD'];
const keeper = startKeeper(folder, (why) =>
  why === null
    ? log.info('what a restart goes on from is written')
    : log.error(`what a restart goes on from can’t be written: ${why}`),
);

const endReady = getReady(folder);

/** Closing takes no longer than this: what sounds was released at its beginning. */
const LONGEST_CLOSE_MS = 3000;

/** What is done when whoever started the engine goes; a spare that has not begun has nothing to release. */
let end = (): void => process.exit(0);

function begin(owed: LedgerEntry[]): void {
  const spare = endReady();
  const ledger = openLedgerPipe(ledgerFd === undefined ? null : Number(ledgerFd));
  let link: LinkEnd | null = null;
  const board = createSwitchboard(
    {
      tell: (message) => link?.tell(message),
      batch: (bytes) => link?.batch(bytes),
      portBytes: (carrier, port, bytes) => link?.portBytes(carrier, port, bytes),
      isHeard: () => link?.isHeard() ?? false,
      cid: keptCid(folder),
      keeper,
      ledger,
      intakes: createIntakes(),
    },
    randomUUID(),
    spare,
  );
  lastState = board.kept;
  keeper.begin();
  const { show, live } = readKept(folder, spare.known);
  board.begin(show, live, owed);
  log.info(show ? `plays “${show.placed.show.settings.name}”` : 'has no show yet');
  const open = (): LinkEnd =>
    openLink(
      socket,
      {
        joined() {
          link!.tell(board.joined());
          board.take({ t: 'tellAll' });
        },
        left: () => board.left(),
        take: (message, json) => board.take(message, json),
        portBytes: (carrier, port, bytes, ageMs) => board.portBytes(carrier, port, bytes, ageMs),
        confused: (error) => log.error(`the server said what can’t be understood: ${String(error)}`),
      },
      () => tellLauncher({ t: 'listening' }),
    );
  const opening = setTimeout(() => (link = open()), SIGNALS_FIRST_MS);
  setInterval(() => tellLauncher({ t: 'alive' }), ALIVE_MS);

  let closing = false;
  async function close(): Promise<void> {
    if (closing) return;
    closing = true;
    setTimeout(() => process.exit(1), LONGEST_CLOSE_MS).unref();
    clearTimeout(opening);
    const closed = board.close();
    link?.close();
    await Promise.all([keeper.close(), closed]);
    process.exit(0);
  }
  end = () => void close();
}

/** How things are in the moment of a fault. */
let lastState: Switchboard['kept'] = () => null;

process.on('uncaughtException', (error) => {
  log.fatal(`the engine failed: ${error.stack ?? String(error)}`);
  try {
    const kept = lastState();
    if (kept) writeKept(folder, SHOW_FILE, kept.show, false);
    if (kept) writeKept(folder, LIVE_FILE, kept.live, false);
  } finally {
    process.exit(1);
  }
});
// A launcher that is gone reads no log: that is no fault of ours, and what sounds is still to be released.
for (const out of [process.stdout, process.stderr]) out.on('error', () => undefined);
process.once('message', (message: FromLauncher) => begin(message.owed));
process.on('disconnect', () => end());
// The parent ended while the server was being loaded.
if (process.send && !process.connected) end();
process.on('SIGTERM', () => end());
tellLauncher({ t: 'ready' });
