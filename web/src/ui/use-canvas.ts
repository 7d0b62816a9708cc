/** A canvas that is painted once a frame in the colours of the theme, while there is something to paint. */
import { useEffect, useRef, type RefObject } from 'react';
import { serverNow } from '../live/server-clock';

export interface Brush {
  c: CanvasRenderingContext2D;
  width: number;
  height: number;
  /** Returns a colour of the theme by its name, such as `dusk`. */
  colour: (name: string) => string;
  /** Milliseconds since 1970. */
  now: number;
}

/** @param paint called for each frame with a cleared canvas. It may change between renders */
export function useCanvas(paint: (brush: Brush) => void): RefObject<HTMLCanvasElement | null> {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(paint);
  useEffect(() => {
    latest.current = paint;
  });
  useEffect(() => {
    const element = canvas.current!;
    const c = element.getContext('2d')!;
    let frame = requestAnimationFrame(function draw() {
      const ratio = window.devicePixelRatio || 1;
      const { clientWidth: width, clientHeight: height } = element;
      if (element.width !== width * ratio || element.height !== height * ratio) {
        element.width = width * ratio;
        element.height = height * ratio;
      }
      c.setTransform(ratio, 0, 0, ratio, 0, 0);
      c.clearRect(0, 0, width, height);
      const style = getComputedStyle(element);
      const colour = (name: string): string => style.getPropertyValue(`--${name}`).trim();
      latest.current({ c, width, height, colour, now: serverNow() });
      frame = requestAnimationFrame(draw);
    });
    return () => cancelAnimationFrame(frame);
  }, []);
  return canvas;
}
