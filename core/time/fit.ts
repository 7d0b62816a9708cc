/** A straight line through frames that were heard at instants. */

/** A straight line through what was heard, in which older frames count less. */
export interface Fit {
  add(at: number, frame: number, keep: number): void;
  frameAt(now: number): number;
  /** Frames a ms; null while there is only one. */
  slope(): number | null;
  /** Moves the line by some frames. */
  shift(frames: number): void;
}

/** Weighted sums around the last instant, so that they stay small. @param slope what is assumed until two frames were heard */
export function createFit(slope: number): Fit {
  let count = 0;
  let origin = 0;
  let base = 0;
  let [w, wt, wtt, wf, wtf] = [0, 0, 0, 0, 0];

  function move(at: number, frame: number): void {
    const dt = at - origin;
    const df = frame - base;
    // t' = t - dt, f' = f - df
    wtf += -dt * wf - df * wt + dt * df * w;
    wtt += -2 * dt * wt + dt * dt * w;
    wt -= dt * w;
    wf -= df * w;
    origin = at;
    base = frame;
  }
  const slopeNow = (): number | null => {
    const spread = w * wtt - wt * wt;
    return count < 2 || spread <= 1e-9 ? null : (w * wtf - wt * wf) / spread;
  };
  return {
    add(at, frame, keep) {
      if (count === 0) [origin, base] = [at, frame];
      else {
        w *= keep;
        wt *= keep;
        wtt *= keep;
        wf *= keep;
        wtf *= keep;
        move(at, frame);
      }
      w += 1;
      count++;
    },
    frameAt(now) {
      const b = slopeNow() ?? slope;
      return base + (w === 0 ? 0 : (wf - b * wt) / w) + b * (now - origin);
    },
    slope: slopeNow,
    shift(frames) {
      base += frames;
    },
  };
}
