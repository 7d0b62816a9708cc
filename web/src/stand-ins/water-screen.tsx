/** The water screen, as its own process says it is: the scene it understood, and what it received. */
import { useEffect, useRef } from 'react';
import { useLiveValue } from '../live/live';
import { clockWords } from '../traffic/words';
import { createPainter, type WaterScene } from './water-painter';

interface WaterState {
  port: number;
  scene: WaterScene;
  received: {
    seq: number;
    at: number;
    address: string;
    args: (number | string | null)[];
    understood: boolean;
  }[];
  count: number;
  bad: number;
  trouble: string;
  understood: string[];
}

export function WaterScreen() {
  const state = useLiveValue('standIns', (store) => store.standIn('water-screen')) as WaterState | null;
  return (
    <section aria-label="Water screen" className="min-w-0">
      <h2 className="font-semibold">Water screen</h2>
      <p className="pb-2 text-xs text-ink-2">
        {state
          ? state.trouble ||
            `A program of its own, listening for OSC on UDP port ${state.port}: ${state.count} ${state.count === 1 ? 'message' : 'messages'}${state.bad ? `, ${state.bad} not understood` : ''}`
          : 'The water screen is not running. It is started again by itself; wait a moment.'}
      </p>
      <Scene scene={state?.scene ?? null} />
      <h3 className="pt-3 text-sm font-semibold">What it received</h3>
      <ol aria-label="Received by the water screen" className="font-mono text-xs">
        {state?.received.map((message) => (
          <li
            key={message.seq}
            data-received={message.address}
            className="flex gap-3 border-b border-rule py-1"
          >
            <span className="text-ink-3">{clockWords(message.at)}</span>
            <span>{message.address}</span>
            <span className="text-tawny" data-args={message.args.map(String).join(' ')}>
              {message.args.map((arg) => (typeof arg === 'number' ? Number(arg.toFixed(4)) : arg)).join(' ')}
            </span>
            {!message.understood && <span className="text-straw">not an address that it knows</span>}
          </li>
        ))}
      </ol>
      {state?.received.length === 0 && (
        <p className="text-sm text-ink-2">
          Nothing yet. Press pad 1: it breaks the storm glass. It knows {state.understood.join(', ')}.
        </p>
      )}
    </section>
  );
}

function Scene({ scene }: { scene: WaterScene | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const wanted = useRef(scene);
  useEffect(() => {
    wanted.current = scene;
  }, [scene]);
  useEffect(() => {
    const element = canvas.current!;
    const painter = createPainter(element);
    let frame = requestAnimationFrame(function paint(now) {
      painter.paint(wanted.current, now);
      frame = requestAnimationFrame(paint);
    });
    return () => cancelAnimationFrame(frame);
  }, []);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={
        scene
          ? `Water at ${Math.round((scene.tide + scene.swell) * 100)} percent, fog ${Math.round(scene.density * 100)} percent`
          : 'Dark'
      }
      className="aspect-[16/9] max-h-[46vh] w-full rounded border border-rule bg-[#0b0d10] object-cover"
    />
  );
}
