/**
 * The keyboard of the machine that the server runs on, typed on by a system tool (`xdotool`, under X). Nothing is typed before the line
 * is switched on, and if a window is named, only while its title is in front.
 */
import { execFile } from 'node:child_process';
import { encodeKey } from '@tawny-signal/core/keys/key';
import { keyInfo } from '@tawny-signal/core/keys/codes';
import { OPEN, trouble, waiting, type LineDriver, type LineListener, type LineOf } from './driver.js';
import { createTimers } from './retry.js';

/** The most keys that wait to be typed. A key that cannot be typed in time is dropped. */
const MOST_WAITING = 32;
const LOOK_MS = 5000;
const TOOL_MS = 2000;

/** @returns the output of the tool. @throws an error with `code` ENOENT if there is no such tool */
export type RunTool = (args: string[]) => Promise<string>;

const runTool: RunTool = (args) =>
  new Promise((done, fail) =>
    execFile('xdotool', args, { timeout: TOOL_MS }, (error, stdout) => (error ? fail(error) : done(stdout))),
  );

/** Why no key can be typed, in words. */
function whyNot(error: NodeJS.ErrnoException, platform: NodeJS.Platform): string {
  if (platform !== 'linux')
    return 'Keys can be typed on Linux under X only. On this system, use a program that listens to OSC or MIDI instead.';
  if (error.code === 'ENOENT')
    return 'The tool that types keys is not installed. Run sudo apt-get install xdotool; the line then opens automatically.';
  if (!process.env['DISPLAY'])
    return 'Tawny Signal was started without a screen (DISPLAY is not set), so there is no window to type into. Start it from a terminal on the desktop.';
  return `The screen ${process.env['DISPLAY']} can’t be reached. Under Wayland, start the programs under X.`;
}

export function openKeysMachine(
  line: LineOf<'keys-machine'>,
  listener: LineListener,
  run: RunTool = runTool,
  platform: NodeJS.Platform = process.platform,
): LineDriver {
  const timers = createTimers();
  const down = new Set<string>();
  /** Keys that could not be pressed, and need no release. */
  const refused = new Set<string>();
  const queue: { code: string; down: boolean }[] = [];
  /** The key that is being typed; null for none. */
  let typing: Promise<void> | null = null;
  let usable = false;
  let closed = false;

  async function look(): Promise<void> {
    try {
      await run(['getmouselocation']);
      usable = true;
      if (!closed) listener.state(OPEN);
    } catch (error) {
      usable = false;
      if (!closed) listener.state(trouble(whyNot(error as NodeJS.ErrnoException, platform), LOOK_MS));
    }
    timers.later(LOOK_MS, () => void look());
  }

  async function rightWindow(): Promise<boolean> {
    if (line.windowTitle === '') return true;
    const title = await run(['getwindowfocus', 'getwindowname']).catch(() => '');
    if (title.toLowerCase().includes(line.windowTitle.toLowerCase())) return true;
    if (!closed)
      listener.state(
        waiting(
          `“${title.trim() || 'No window'}” is in front, not one called “${line.windowTitle}”: nothing was typed.`,
        ),
      );
    return false;
  }

  async function type({ code, down: press }: { code: string; down: boolean }): Promise<void> {
    const { keysym } = keyInfo(code)!;
    if (!press) {
      // A release is typed whatever window is in front. An earlier engine may have pressed the key.
      if (refused.delete(code)) return;
      await run(['keyup', keysym]);
      down.delete(code);
      return;
    }
    // A line that was closed meanwhile types nothing more.
    if (!(await rightWindow()) || closed) {
      refused.add(code);
      return;
    }
    refused.delete(code);
    // The key counts as down before the tool confirms it, so that a line which closes in between releases it.
    down.add(code);
    await run(['keydown', keysym]);
    if (!closed) listener.state(OPEN);
  }

  async function typeAll(): Promise<void> {
    for (let next = queue.shift(); next; next = queue.shift()) {
      try {
        await type(next);
      } catch (error) {
        if (!closed) listener.state(trouble(whyNot(error as NodeJS.ErrnoException, platform)));
      }
    }
    typing = null;
  }

  function begin(): void {
    typing ??= typeAll();
  }

  if (line.on) void look();
  else
    listener.state(
      waiting('Switched off: no key is typed. Switch it on where this line is open, under Lines.'),
    );

  return {
    send(signal) {
      if (signal.kind !== 'key' || !line.on || !usable) return null;
      if (signal.down && queue.length >= MOST_WAITING) return null;
      queue.push({ code: signal.code, down: signal.down });
      begin();
      return encodeKey(signal);
    },
    close() {
      closed = true;
      timers.stop();
      for (const code of down) queue.push({ code, down: false });
      if (queue.length > 0) begin();
      return typing ?? undefined;
    },
  };
}
