/** The water screen as its process reports it: the scene, and what it received. */
import { useEffect, useRef } from 'react';
import { ReceivedList } from './received';
import { useStandIn, type Received } from './standing';
import { createPainter, type WaterScene } from './water-painter';

interface Message {
  address: string;
  args: (number | string | null)[];
}

interface WaterState {
  port: number;
  scene: WaterScene;
  received: Received<Message>[];
  count: number;
  bad: number;
  trouble: string;
  understood: string[];
}

/** The frame rate and resolution of the picture, which must not slow down the rest of the page. */
const PACE = { large: { everyMs: 33, scale: 0.75 }, small: { everyMs: 120, scale: 0.2 } };
/** The frame rate for people who prefer reduced motion. */
const CALM_MS = 300;
/** If frames take longer than this, the picture is painted less often. */
const SLOW_MS = 40;

export function WaterPicture({ small }: { small: boolean }) {
  const state = useStandIn<WaterState>('water-screen');
  const scene = state?.scene ?? null;
  const canvas = useRef<HTMLCanvasElement>(null);
  const wanted = useRef(scene);
  useEffect(() => {
    wanted.current = scene;
  }, [scene]);
  useEffect(() => {
    const element = canvas.current!;
    const pace = small ? PACE.small : PACE.large;
    const calm = window.matchMedia('(prefers-reduced-motion: reduce)').matches;
    const everyMs = calm ? CALM_MS : pace.everyMs;
    const { scale } = pace;
    const painter = createPainter(element, scale);
    let lastFrame = 0;
    let lastPaint = 0;
    let smooth = 16;
    let frame = requestAnimationFrame(function paint(now) {
      smooth += (Math.min(500, now - lastFrame) - smooth) / 8;
      lastFrame = now;
      const wait = smooth > SLOW_MS ? everyMs * 4 : everyMs;
      if (now - lastPaint >= wait - 4) {
        lastPaint = now;
        painter.paint(wanted.current, now);
      }
      frame = requestAnimationFrame(paint);
    });
    return () => cancelAnimationFrame(frame);
  }, [small]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={
        scene
          ? `Water at ${Math.round((scene.tide + scene.swell) * 100)} percent, fog ${Math.round(scene.density * 100)} percent`
          : 'Dark'
      }
      className="h-full w-full object-cover"
    />
  );
}

export function waterWords(state: WaterState): string {
  const bad = state.bad ? `, ${state.bad} not understood` : '';
  return (
    state.trouble ||
    `Listens for OSC on UDP port ${state.port}: ${state.count} ${state.count === 1 ? 'message' : 'messages'}${bad}${state.scene.time ? `. It is told ${state.scene.time}` : ''}`
  );
}

export function WaterReceived({ state }: { state: WaterState }) {
  return (
    <ReceivedList
      of="water screen"
      received={state.received}
      unknown="not an address that it knows"
      empty={`Nothing yet. Press pad 1: it breaks the storm glass. It knows ${state.understood.join(', ')}.`}
      words={({ address, args }) => (
        <span data-received={address} className="flex gap-3">
          <span>{address}</span>
          <span className="text-tawny" data-args={args.map(String).join(' ')}>
            {args.map((arg) => (typeof arg === 'number' ? Number(arg.toFixed(4)) : arg)).join(' ')}
          </span>
        </span>
      )}
    />
  );
}
