/**
 * Brings the time of an audio context to the time of the page. The browser says which instant of the context leaves the loudspeaker when; that is
 * as even as the sound card's clock, while messages from the audio thread come in bursts.
 */

export interface AudioClock {
  /** When sound of this instant of the context was taken in, as `performance.now` counts; null while the context stands. */
  takenInAt(contextS: number): number | null;
  /** The instant of the context that leaves the loudspeaker now, in s; null while the context stands. */
  playedAt(now: number): number | null;
}

export function createAudioClock(
  context: Pick<AudioContext, 'getOutputTimestamp' | 'outputLatency' | 'baseLatency'>,
): AudioClock {
  /** The time from the audio thread to the loudspeaker in ms. It is an estimate that may move, so the first one counts. */
  let latencyMs: number | null = null;

  /** What has to be added to an instant of the context in ms. */
  function offset(): number | null {
    const { contextTime = 0, performanceTime = 0 } = context.getOutputTimestamp();
    if (performanceTime === 0) return null;
    latencyMs ??= (context.outputLatency + context.baseLatency) * 1000;
    return performanceTime - contextTime * 1000;
  }
  return {
    takenInAt(contextS) {
      const by = offset();
      return by === null ? null : contextS * 1000 + by - latencyMs!;
    },
    playedAt(now) {
      const by = offset();
      return by === null ? null : (now - by) / 1000;
    },
  };
}
