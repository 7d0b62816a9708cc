/** The scopes of motions, on canvas. */
import { useMemo } from 'react';
import { previewOf } from '@tawny-signal/core/motion/preview';
import type { Motion } from '@tawny-signal/core/show/motion';
import type { Tempo } from '@tawny-signal/core/time/tempo';
import { useLive } from '../live/live';
import { useCanvas } from '../ui/use-canvas';
import { useHistory } from './history';
import { paintScope, paintSmall } from './scope-painter';

export function Scope({ motion }: { motion: Motion }) {
  const history = useHistory();
  const { store } = useLive();
  const canvas = useCanvas((brush) => {
    const transport = store.transport();
    const tempo: Tempo | null = transport && {
      bpm: transport.bpm,
      since: transport.beatAt,
      bar: transport.bar,
    };
    const moved = store.motions().moved[motion.id];
    paintScope(brush, {
      motion,
      samples: history.of(motion.id),
      tempo,
      moved: moved !== undefined && (moved.speed !== null || moved.form !== null),
    });
  });
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`What ${motion.name} makes: the last six seconds, and the next two where they are known`}
      className="block h-29 w-full border-y border-rule"
    />
  );
}

const POINTS = 96;

export function SmallScope({ motion }: { motion: Motion }) {
  const history = useHistory();
  const preview = useMemo(() => previewOf(motion, POINTS), [motion]);
  const canvas = useCanvas((brush) => paintSmall(brush, history.of(motion.id), preview));
  return <canvas ref={canvas} aria-hidden className="h-8 w-full max-w-56" />;
}
