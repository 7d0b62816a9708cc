/**
 * The MIDI ports of the machine that the server runs on, through a native package that is an optional dependency:
 * where it can't be loaded, or finds no sound system, the reason is said in words.
 */

export interface NativeInput {
  getPortCount(): number;
  getPortName(at: number): string;
  openPort(at: number): void;
  openVirtualPort(name: string): void;
  ignoreTypes(sysex: boolean, timing: boolean, sensing: boolean): void;
  on(event: 'message', listener: (seconds: number, bytes: number[]) => void): unknown;
  closePort(): void;
  destroy(): void;
}

export interface NativeOutput {
  getPortCount(): number;
  getPortName(at: number): string;
  openPort(at: number): void;
  openVirtualPort(name: string): void;
  sendMessage(bytes: number[]): void;
  closePort(): void;
  destroy(): void;
}

/** The part of the package that is used. Tests provide their own. */
export interface NativeMidi {
  Input: new () => NativeInput;
  Output: new () => NativeOutput;
}

const PACKAGE = '@julusian/midi';

/** @throws Error with a message for the user if it cannot be loaded */
export async function loadNativeMidi(): Promise<NativeMidi> {
  try {
    const loaded = (await import(PACKAGE)) as NativeMidi & { default?: NativeMidi };
    return loaded.Input ? loaded : loaded.default!;
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : '';
    throw new Error(
      code === 'ERR_MODULE_NOT_FOUND'
        ? `The package for this machine’s MIDI ports is not installed. Run npm install --include=optional, and start again. A controller can also be reached through a browser on this machine.`
        : `The package for this machine’s MIDI ports can’t be loaded here (${String(error)}). A controller can also be reached through a browser on this machine.`,
      { cause: error },
    );
  }
}

/** Why no port can be opened, in words. @param platform as Node names it */
export function noSoundSystem(platform: NodeJS.Platform, reason: string): string {
  if (platform === 'linux')
    return 'This machine has no sound system for MIDI: /dev/snd/seq can’t be opened. Load it with sudo modprobe snd-seq, and see that you are in the group audio. A controller can also be reached through a browser.';
  return `This machine’s MIDI can’t be reached (${reason}). A controller can also be reached through a browser.`;
}

/** What to use on systems without virtual ports. */
export const NO_VIRTUAL_PORTS =
  'Windows has no virtual MIDI ports of its own. Install a loopback MIDI driver, and use one of its ports as a line of this machine instead.';
