/**
 * `npm start -- --install-service`: writes a service of systemd that starts the show with the machine (systemd.service(5), systemd.unit(5)). Nothing is
 * started or switched on by it: the commands for that are said.
 */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';
import { ROOT } from './build.js';

const NAME = 'tawny-signal.service';
/** How long a stop may take before what is left of it is ended. The show says goodbye to the network and keeps where it was. */
const STOP_S = 30;

export interface Unit {
  /** The folder of the project. */
  root: string;
  /** The program of Node.js. */
  node: string;
  /** The options of `npm start`. */
  options: readonly string[];
  /** The user whose service it is, where it is one of the whole machine; null for one of the user who asks. */
  user: string | null;
  /** What of the environment it keeps. */
  env: Readonly<Record<string, string>>;
}

/** One word of a command: quoted, with what systemd would replace written twice (systemd.service(5), “Command lines”). */
const word = (text: string): string =>
  `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('%', '%%').replaceAll('$', '$$$$')}"`;
/** A value of `Environment=`, where `$` has no meaning. */
const assignment = (name: string, value: string): string =>
  `"${name}=${value.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('%', '%%')}"`;

export function unitText({ root, node, options, user, env }: Unit): string {
  const command = [node, join(root, 'scripts/bootstrap.mjs'), 'start', '--no-install', ...options];
  return `[Unit]
Description=Tawny Signal, which bridges MIDI and the programs of a show
Documentation=file:${root.replaceAll('%', '%%').replaceAll(' ', '%%20')}/docs/guide/at-boot.md
After=network-online.target sound.target
Wants=network-online.target

[Service]
Type=exec
${user === null ? '' : `User=${user}\n`}WorkingDirectory=${root.replaceAll('%', '%%')}
ExecStart=${command.map(word).join(' ')}
${Object.entries(env)
  .map(([name, value]) => `Environment=${assignment(name, value)}\n`)
  .join('')}# The launcher ends its own programs, in their order: it alone is told to stop.
KillMode=mixed
TimeoutStopSec=${STOP_S}
Restart=on-failure
RestartSec=1

[Install]
WantedBy=${user === null ? 'default.target' : 'multi-user.target'}
`;
}

/** @param options of `npm start`, without the one that asks for this. @returns what to say */
export function installService(options: readonly string[]): string {
  const isRoot = process.getuid?.() === 0;
  // Of root it is a service of the machine; it runs as who asked by sudo.
  const user = isRoot ? (process.env['SUDO_USER'] ?? 'root') : null;
  const folder = isRoot
    ? '/etc/systemd/system'
    : join(process.env['XDG_CONFIG_HOME'] ?? join(homedir(), '.config'), 'systemd/user');
  const path = join(process.env['TAWNY_SERVICE_FOLDER'] ?? folder, NAME);
  const env: Record<string, string> = { PATH: `${dirname(process.execPath)}:/usr/local/bin:/usr/bin:/bin` };
  for (const name of ['TAWNY_FOLDER', 'DATABASE_URL']) {
    const value = process.env[name];
    if (value !== undefined) env[name] = value;
  }
  mkdirSync(dirname(path), { recursive: true });
  // The address of a database may have a password in it. A file that is there already would keep its rights.
  rmSync(path, { force: true });
  writeFileSync(path, unitText({ root: ROOT, node: process.execPath, options, user, env }), { mode: 0o600 });
  const ctl = isRoot ? 'systemctl' : 'systemctl --user';
  const lines = [
    `Written: ${path}`,
    '',
    'Switch it on, so that it starts now and with the machine:',
    '',
    `  ${ctl} daemon-reload && ${ctl} enable --now ${NAME}`,
    ...(isRoot ? [] : ['  loginctl enable-linger    (so that it starts before you log in)']),
    '',
    `What it says: journalctl ${isRoot ? '' : '--user '}-u ${NAME}    It is ended with: ${ctl} stop ${NAME}`,
  ];
  if (user === 'root')
    lines.push(
      '',
      'It would run as root, with all rights on this machine. Ask for it as an ordinary user, or with sudo.',
    );
  return lines.join('\n');
}
