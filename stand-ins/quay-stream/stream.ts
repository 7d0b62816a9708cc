/** The quay stream: keys choose scenes, pan the camera while held, and type a caption. No I/O. */

export interface Key {
  /** W3C UI Events KeyboardEvent code. */
  code: string;
  down: boolean;
}

/** One byte, 1 for down and 0 for up, and the key's code in ASCII. @returns null for anything else */
export function readKey(bytes: Uint8Array): Key | null {
  const [down, ...rest] = bytes;
  const code = String.fromCharCode(...rest);
  return (down === 0 || down === 1) && /^[A-Za-z0-9]{1,20}$/.test(code) ? { code, down: down === 1 } : null;
}

/** The scenes, by the key that chooses them. */
export const SCENES: Readonly<Record<string, string>> = {
  F1: 'Wide pier',
  F2: 'Lantern close',
  F3: 'Over the water',
  F4: 'Storm',
};

const LONGEST = 40;
/** Of the picture's width, a second. */
const PAN_PER_MS = 0.4 / 1000;

export interface StreamState {
  scene: string;
  /** −1 left to 1 right. */
  pan: number;
  caption: string;
  /** Codes of the keys that are down. */
  down: string[];
}

export interface Stream {
  /** @returns whether the key has an effect */
  take(key: Key, now: number): boolean;
  state(now: number): StreamState;
}

function letterOf(code: string): string | null {
  if (code === 'Space') return ' ';
  return /^(?:Key([A-Z])|Digit(\d))$/.exec(code)?.slice(1).find(Boolean) ?? null;
}

export function createStream(): Stream {
  const down = new Set<string>();
  let scene = SCENES['F1']!;
  let caption = '';
  let pan = 0;
  let at = 0;

  function move(now: number): void {
    const way = (down.has('ArrowRight') ? 1 : 0) - (down.has('ArrowLeft') ? 1 : 0);
    pan = Math.max(-1, Math.min(1, pan + way * PAN_PER_MS * (now - at)));
    at = now;
  }

  return {
    take({ code, down: pressed }, now) {
      move(now);
      if (!pressed) return down.delete(code);
      down.add(code);
      const letter = letterOf(code);
      if (SCENES[code]) scene = SCENES[code];
      else if (letter) caption = (caption + letter).slice(-LONGEST);
      else if (code === 'Backspace') caption = caption.slice(0, -1);
      else if (code === 'Enter') caption = '';
      else return code.startsWith('Arrow');
      return true;
    },
    state(now) {
      move(now);
      return { scene, pan, caption, down: [...down] };
    },
  };
}
