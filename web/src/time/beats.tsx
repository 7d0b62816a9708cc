/** The tempo marks on the strip, and the beats between them while there is room. Nothing outside of what is seen is drawn. */
import { beatMs, markAt, type PlacedMark } from '@tawny-signal/core/time/tempo-marks';

interface BeatsProps {
  marks: readonly PlacedMark[];
  toBar: number;
  /** What is seen, in ms of the position. */
  seen: { from: number; to: number };
  /** The position at the left of the strip, in ms. */
  from: number;
  perMs: number;
}

/** The least room between two lines, in pixels. */
const BEAT_ROOM = 12;
/** The least room between two marks for what the first is called. */
const MARK_ROOM = 90;

interface BeatLine {
  ms: number;
  isBar: boolean;
}

/** The lines of the beats that are seen; those of bars only where beats have no room. */
export function beatLines({ marks, toBar, seen, perMs }: Omit<BeatsProps, 'from'>): BeatLine[] {
  return marks.slice(Math.max(0, markAt(marks, seen.from))).flatMap((mark, at, all) => {
    const end = Math.min(seen.to, all[at + 1]?.ms ?? Infinity);
    const every = beatMs(mark) * perMs >= BEAT_ROOM ? 1 : toBar;
    const stepMs = beatMs(mark) * every;
    if (stepMs * perMs < BEAT_ROOM || mark.ms > seen.to) return [];
    const first = Math.max(1, Math.ceil((seen.from - mark.ms) / stepMs));
    const count = Math.max(0, Math.ceil((end - mark.ms) / stepMs) - first);
    return Array.from({ length: count }, (_, n) => {
      const beat = (first + n) * every;
      return { ms: mark.ms + beat * beatMs(mark), isBar: beat % toBar === 0 };
    });
  });
}

export function Beats(props: BeatsProps) {
  const { marks, seen, from, perMs } = props;
  return (
    <>
      {beatLines(props).map(({ ms, isBar }) => (
        <span
          key={ms}
          aria-hidden
          data-beat
          className={`absolute bottom-0 w-px ${isBar ? 'h-4 bg-ink-3' : 'h-2 bg-rule'}`}
          style={{ left: (ms - from) * perMs }}
        />
      ))}
      {marks
        .map((mark, at) => ({
          ...mark,
          hasRoom: ((marks[at + 1]?.ms ?? Infinity) - mark.ms) * perMs >= MARK_ROOM,
        }))
        .filter(({ ms }) => ms >= seen.from && ms <= seen.to)
        .map(({ id, ms, bpm, name, hasRoom }) => (
          <span
            key={id}
            data-mark={bpm}
            className="absolute bottom-0 h-7 border-l-2 border-ink-2 pl-1 font-mono text-xs leading-4 text-ink-2"
            style={{ left: (ms - from) * perMs }}
          >
            <span className="sr-only">from here on, beats a minute: </span>
            <span className={hasRoom ? '' : 'sr-only'}>
              {bpm} {name}
            </span>
          </span>
        ))}
    </>
  );
}
