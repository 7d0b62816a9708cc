/** How loud a line hears, as a bar and in words. */
import { useEffect, useRef } from 'react';

export interface LevelSeen {
  /** Below full scale; -Infinity for silence. */
  db: number;
  clips: boolean;
}

const FLOOR_DB = -60;
const EVERY_MS = 100;
export const toDb = (peak: number): number => (peak > 0 ? 20 * Math.log10(peak) : -Infinity);

function wordsOf({ db, clips }: LevelSeen): string {
  if (db < FLOOR_DB) return 'silent';
  return clips ? 'too loud: turn it down at the source' : `${db.toFixed(0)} dB`;
}

/** Reads the level ten times a second, and draws it without drawing the page anew. @param read null for silence */
export function Level({ read }: { read: () => LevelSeen | null }) {
  const bar = useRef<HTMLSpanElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const reader = useRef(read);
  useEffect(() => {
    reader.current = read;
  });
  useEffect(() => {
    function draw(): void {
      const level = reader.current() ?? { db: -Infinity, clips: false };
      if (bar.current) {
        bar.current.style.width = `${Math.max(0, Math.min(1, 1 - level.db / FLOOR_DB)) * 100}%`;
        bar.current.style.background = level.clips ? 'var(--brick)' : 'var(--moss)';
      }
      if (text.current) text.current.textContent = wordsOf(level);
    }
    draw();
    const timer = setInterval(draw, EVERY_MS);
    return () => clearInterval(timer);
  }, []);
  return (
    <div className="flex items-center gap-3 py-1.5 text-sm">
      <span className="w-21 shrink-0 text-ink-2">Level</span>
      <span className="h-2.5 min-w-0 flex-1 overflow-hidden rounded-sm bg-bark-2">
        <span ref={bar} className="block h-full w-0" />
      </span>
      <span ref={text} data-sound-level className="w-24 shrink-0 font-mono text-xs text-ink-2" />
    </div>
  );
}
