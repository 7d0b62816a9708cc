/**
 * Whoever started a command: its shell, or npm and the shell of npm. A command ends with them, however they end, so that nothing goes on that nobody
 * knows of.
 */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

const LOOK_MS = 500;

/** @param {number} pid @returns {{ parent: number, command: string } | null} null if there is no such process */
function processOf(pid) {
  try {
    if (process.platform === 'linux') {
      const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
      // proc(5): the name stands in brackets and may have spaces; the state and the parent follow.
      const parent = Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
      return { parent, command: readFileSync(`/proc/${pid}/cmdline`, 'utf8') };
    }
    const said = execFileSync('ps', ['-o', 'ppid=,command=', '-p', String(pid)], { encoding: 'utf8' }).trim();
    return { parent: Number.parseInt(said, 10), command: said };
  } catch {
    return null;
  }
}

/**
 * The processes that have to live on, the nearest first: the parent, and npm if it stands behind that. Whoever called npm may end: a terminal that was
 * left on purpose is nobody’s.
 * @returns {number[]}
 */
function starters() {
  const { ppid } = process;
  const parent = processOf(ppid);
  if (!parent || ppid <= 1) return [];
  const behind = process.env['npm_lifecycle_event'] === undefined ? null : processOf(parent.parent);
  const isNpm = (/** @type {{ command: string } | null} */ one) =>
    one !== null && /\bnpm\b/.test(one.command);
  return !isNpm(parent) && isNpm(behind) ? [ppid, parent.parent] : [ppid];
}

/** Calls once when whoever started this is gone. @param {() => void} gone */
export function whenStarterGone(gone) {
  const chain = starters();
  const [first, second] = chain;
  if (first === undefined) return;
  const timer = setInterval(() => {
    if (process.ppid === first && (second === undefined || processOf(first)?.parent === second)) return;
    clearInterval(timer);
    gone();
  }, LOOK_MS);
  timer.unref();
}
