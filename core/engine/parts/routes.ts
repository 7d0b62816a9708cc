/** Routes: pass the input of one line on to another. */
import { createPatchBay } from '../../routes/patch-bay.js';
import type { Part, Stage } from '../part.js';

export interface RoutesPart extends Part {
  /** The routes that were cut because they closed a loop: ids, with when each was cut in monotonic ms. */
  cut(): ReadonlyMap<string, number>;
}

export function createRoutesPart({ put }: Stage): RoutesPart {
  const bay = createPatchBay();
  return {
    cut: () => bay.cut(),
    load({ show, whole, lines }) {
      if (!whole) return;
      const muted = new Set(show.lines.filter((line) => line.muted).map(({ id }) => id));
      bay.load(show, lines.indexOf, muted, put);
    },
    hears: () => bay.any(),
    hear: (line, signal, now) => bay.pass(line, signal, now, put),
    take(input) {
      if (input.t === 'lineGone') bay.lineGone(input.line, put);
      if (input.t === 'openRoute') bay.restore(input.id);
    },
    wakeAt: () => bay.wakeAt(),
    wake: (now) => bay.wake(now, put),
    letGo: () => bay.releaseAll(put),
  };
}
