/** Does something at once, and again once for all wishes that come within `everyMs` after it. */
export function atMost(everyMs: number, act: () => void): () => void {
  let waiting: NodeJS.Timeout | null = null;
  let wished = false;
  function perform(): void {
    wished = false;
    waiting = setTimeout(() => {
      waiting = null;
      if (wished) perform();
    }, everyMs).unref();
    act();
  }
  return () => {
    if (waiting) wished = true;
    else perform();
  };
}
