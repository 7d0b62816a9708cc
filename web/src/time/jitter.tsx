/** How far frames came from their time over the last 30 s: a dot for each look, the middle line is on time. */
import { useEffect, useRef } from 'react';
import { useLive } from '../live/live';
import { useCanvas } from '../ui/use-canvas';
import { serverNow } from '../live/server-clock';

const SPAN_MS = 30_000;
/** The half height of the picture, in ms of jitter. */
const HALF_MS = 4;
const MOST = 200;

export function Jitter({ id }: { id: string }) {
  const { store } = useLive();
  const seen = useRef<{ at: number; offMs: number }[]>([]);
  useEffect(
    () =>
      store.subscribe('transport', () => {
        const source = store.transport()?.position.sources[id];
        if (source?.state !== 'locked') return;
        seen.current.push({ at: serverNow(), offMs: source.quality.offMs });
        if (seen.current.length > MOST) seen.current.shift();
      }),
    [store, id],
  );
  const canvas = useCanvas(({ c, width, height, colour, now }) => {
    c.fillStyle = colour('rule');
    c.fillRect(0, Math.round(height / 2), width, 1);
    c.fillStyle = colour('dusk');
    for (const { at, offMs } of seen.current) {
      const x = width - ((now - at) / SPAN_MS) * width;
      if (x < 0) continue;
      const y = height / 2 - (Math.max(-HALF_MS, Math.min(HALF_MS, offMs)) / HALF_MS) * (height / 2 - 2);
      c.fillRect(x, y - 1, 2, 2);
    }
  });
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`How far frames came from their time in the last 30 s, up to ${HALF_MS} ms`}
      className="h-7 w-full"
    />
  );
}
