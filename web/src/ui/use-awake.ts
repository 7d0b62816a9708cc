/** Keeps the screen on while a page is in sight (Screen Wake Lock API, W3C). Browsers give that only to a secure page. */
import { useEffect, useState } from 'react';

export type Awake = 'awake' | 'asking' | 'refused' | 'unsupported';

export function useAwake(): Awake {
  const [state, setState] = useState<Awake>('wakeLock' in navigator ? 'asking' : 'unsupported');
  useEffect(() => {
    if (!('wakeLock' in navigator)) return;
    let held: WakeLockSentinel | null = null;
    let over = false;
    // The browser lets go of it where the page goes out of sight, and while the battery is low.
    async function ask(): Promise<void> {
      if (document.hidden || (held && !held.released)) return;
      try {
        const got = await navigator.wakeLock.request('screen');
        if (over) return void got.release();
        held = got;
        setState('awake');
        got.addEventListener('release', () => !over && setState('asking'));
      } catch {
        if (!over) setState('refused');
      }
    }
    const again = (): void => void ask();
    document.addEventListener('visibilitychange', again);
    void ask();
    return () => {
      over = true;
      document.removeEventListener('visibilitychange', again);
      void held?.release();
    };
  }, []);
  return state;
}

/** What is said where the screen may go dark; null where it stays on, or will in a moment. */
export function awakeWords(state: Awake): string | null {
  if (state === 'refused')
    return 'The browser does not keep the screen on, perhaps to save the battery: it may go dark.';
  if (state !== 'unsupported') return null;
  return isSecureContext
    ? 'This browser can’t keep the screen on: it may go dark.'
    : 'The screen may go dark: browsers keep it on only for an encrypted page (--tls, or the switch under Network and people).';
}
