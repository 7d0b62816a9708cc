/** A switch that this browser remembers. */
import { useState } from 'react';

/** @param key its name in the browser's store */
export function useRemembered(key: string): [boolean, (on: boolean) => void] {
  const [on, setOn] = useState(() => {
    try {
      return localStorage.getItem(key) === 'on';
    } catch {
      return false;
    }
  });
  return [
    on,
    (next) => {
      setOn(next);
      try {
        localStorage.setItem(key, next ? 'on' : 'off');
      } catch {
        // It lasts until the page is closed.
      }
    },
  ];
}
