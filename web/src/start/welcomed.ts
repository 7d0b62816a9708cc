/** Whether this browser has seen the first steps, or skipped them. */

const KEY = 'tawny-first-steps';

export function isWelcomed(): boolean {
  try {
    return localStorage.getItem(KEY) === 'done';
  } catch {
    return true; // a browser that stores nothing would be greeted for ever
  }
}

export function setWelcomed(): void {
  try {
    localStorage.setItem(KEY, 'done');
  } catch {
    // It is greeted again the next time.
  }
}
