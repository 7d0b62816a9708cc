/** A picture of the column of a table, and where it is now. */
import { useMemo } from 'react';
import { valuesOf, type Table } from '@tawny-signal/core/motion/makes/table';
import type { Motion } from '@tawny-signal/core/show/motion';
import { useCanvas } from '../ui/use-canvas';
import { useHistory } from './history';

export function ColumnPicture({ motion, makes }: { motion: Motion; makes: Table }) {
  const history = useHistory();
  const values = useMemo(() => valuesOf(makes), [makes]);
  const canvas = useCanvas(({ c, width, height, colour }) => {
    c.fillStyle = colour('paper');
    c.fillRect(0, 0, width, height);
    const yOf = (value: number): number => 4 + (1 - value) * (height - 8);
    c.strokeStyle = colour('tawny');
    c.beginPath();
    // No more points than there are pixels to draw them.
    const count = Math.min(values.length, Math.max(2, Math.floor(width * 2)));
    for (let n = 0; n < count; n++) {
      const value = values[Math.floor((n / count) * values.length)]!;
      c.lineTo((n / Math.max(1, count - 1)) * width, yOf(value));
    }
    c.stroke();
    const made = history.of(motion.id).at(-1)?.voices[0]?.made ?? null;
    if (made === null) return;
    c.strokeStyle = colour('dusk');
    c.beginPath();
    c.moveTo(0, yOf(made));
    c.lineTo(width, yOf(made));
    c.stroke();
  });
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`The ${values.length} values of the column`}
      className="mb-1.5 block h-20 w-full rounded border border-rule"
    />
  );
}
