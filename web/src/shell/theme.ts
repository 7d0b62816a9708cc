/** The theme, dark or light, stored in this browser. */
import { useSyncExternalStore } from 'react';

export type Theme = 'dark' | 'daylight';
const KEY = 'tawny-theme';
const listeners = new Set<() => void>();

function read(): Theme {
  try {
    return localStorage.getItem(KEY) === 'daylight' ? 'daylight' : 'dark';
  } catch {
    return 'dark';
  }
}

let theme = read();
document.documentElement.dataset['theme'] = theme;

export function setTheme(next: Theme): void {
  theme = next;
  document.documentElement.dataset['theme'] = next;
  try {
    localStorage.setItem(KEY, next);
  } catch {
    // A browser that stores nothing still shows the theme until it is closed.
  }
  for (const listener of listeners) listener();
}

export function useTheme(): Theme {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => theme,
  );
}
