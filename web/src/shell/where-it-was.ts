/** Where the installed app was, so that it opens there again. Stored in the browser. */

const KEY = 'tawny-was-at';
/** The address with which the app is opened (app.webmanifest). */
const OPENED = 'app';

export const isApp = (): boolean =>
  matchMedia('(display-mode: standalone), (display-mode: fullscreen)').matches;

export function keepPlace(path: string): void {
  if (!isApp() || path === '/') return;
  try {
    localStorage.setItem(KEY, path);
  } catch {
    // It opens on the prompt desk.
  }
}

/** @returns where the app was, the prompt desk if it is opened for the first time; null where this is no app that opens */
export function placeOfApp(search: string): string | null {
  if (!isApp() && !new URLSearchParams(search).has(OPENED)) return null;
  try {
    const kept = localStorage.getItem(KEY) ?? '';
    return /^\/(?!\/)./.test(kept) ? kept : '/prompt';
  } catch {
    return '/prompt';
  }
}
