/** The water screen: turns decoded OSC messages into a scene. No I/O. */

export interface Scene {
  /** 0–1 around the colour circle. */
  hue: number;
  /** 0 clear – 1 thick. */
  density: number;
  /** How high the water stands, 0–1. */
  tide: number;
  /** The swell that comes on top of it, 0–1. */
  swell: number;
  /** The lamp in the lantern, 0–1. */
  glow: number;
  /** Bursts since the start: each new one breaks the storm glass again, with this force 0–1. */
  storm: { count: number; force: number };
  /** Ripples since the start, the last at this place 0–1 across the screen. */
  ripple: { count: number; at: number };
  /** The timecode that it was told last; empty for none. */
  time: string;
}

export const firstScene = (): Scene => ({
  hue: 0.55,
  density: 0.15,
  tide: 0.3,
  swell: 0,
  glow: 0.12,
  storm: { count: 0, force: 0 },
  ripple: { count: 0, at: 0 },
  time: '',
});

const within = (value: number): number => Math.min(1, Math.max(0, value));

type Part = (scene: Scene, value: number) => void;

/** The addresses that the screen knows. Each has one number. */
const PARTS: Record<string, Part> = {
  '/sky/hue': (scene, value) => (scene.hue = value - Math.floor(value)),
  '/fog/density': (scene, value) => (scene.density = within(value)),
  '/tide/height': (scene, value) => (scene.tide = within(value)),
  '/tide/swell': (scene, value) => (scene.swell = within(value)),
  '/lantern/glow': (scene, value) => (scene.glow = within(value)),
  '/moment/storm/go': (scene, value) =>
    (scene.storm = { count: scene.storm.count + 1, force: within(value) }),
  '/bell/ripple': (scene, value) => (scene.ripple = { count: scene.ripple.count + 1, at: within(value) }),
};

/** Where it is told the time: seconds, and a timecode as text. */
const TIME = '/time';
export const understood = Object.keys(PARTS);

/** Takes the time, which comes many times a second and is no event. @returns whether it was that */
export function takeTime(scene: Scene, address: string, args: unknown[]): boolean {
  if (address !== TIME) return false;
  const text = args.find((arg) => typeof arg === 'string');
  scene.time = (text as string | undefined) ?? String(args[0] ?? '');
  return true;
}

/** @returns whether the screen knows the message. A message without a number counts as 1 */
export function take(scene: Scene, address: string, args: unknown[]): boolean {
  const part = PARTS[address];
  if (!part) return false;
  const number = args.find((arg) => typeof arg === 'number' && Number.isFinite(arg));
  part(scene, (number as number | undefined) ?? 1);
  return true;
}
