/** The message at the bottom of the screen: one at a time, the newest. It says what was done or could not be done, and may offer one thing to press. */

export interface Notice {
  id: number;
  words: string;
  look: 'plain' | 'warning' | 'fault';
  /** A button in the message, such as Undo. */
  act: { words: string; run: () => unknown } | null;
}

let shown: Notice | null = null;
let made = 0;
const listeners = new Set<() => void>();

function show(next: Notice | null): void {
  shown = next;
  for (const listener of listeners) listener();
}

/** Shows a message in place of the one before it. */
export function notify(
  words: string,
  { look = 'plain', act = null }: Partial<Pick<Notice, 'look' | 'act'>> = {},
): void {
  made++;
  show({ id: made, words, look, act });
}

/** Takes a message away, unless a newer one is shown. */
export function dismiss(id: number): void {
  if (shown?.id === id) show(null);
}

export const currentNotice = (): Notice | null => shown;

export function followNotices(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
