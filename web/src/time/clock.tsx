/** The position, large, with where it comes from and what is next. */
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Show } from '@tawny-signal/core/show';
import { positionAt } from '@tawny-signal/core/time/position';
import { RATES } from '@tawny-signal/core/timecode/frame-rate';
import { useLive } from '../live/live';
import { useNow } from '../order/use-order';
import { isKnown, usePositionSeen, useTimecodeText } from './use-position';
import { modeWords, spanWords } from './words';

const COLOURS = { own: '', following: '', riding: 'text-straw', lost: 'text-brick', standing: '' } as const;

export function Clock({ show }: { show: Show }) {
  const rate = show.settings.timecode.frameRate;
  const text = useTimecodeText(rate);
  const position = usePositionSeen();
  const { store } = useLive();
  const known = isKnown(store);
  return (
    <div>
      <p className="font-mono leading-none">
        <span className="sr-only">Position: </span>
        <span
          ref={text}
          data-timecode
          className={`text-4xl tabular-nums sm:text-6xl ${known ? '' : 'text-ink-3'}`}
        />
      </p>
      <p className="pt-2 text-sm text-ink-2" data-position-mode={position?.mode}>
        {RATES[rate].words}
        {position && (
          <>
            , <span className={COLOURS[position.mode]}>{modeWords(position, show)}</span>.{' '}
          </>
        )}
        {!known && (
          <span className="text-straw">The connection is lost: this is the last known position.</span>
        )}
        {known && position && <Next show={show} />}
      </p>
    </div>
  );
}

function Next({ show }: { show: Show }) {
  const position = usePositionSeen();
  const now = useNow((position?.motion.speed ?? 0) !== 0);
  if (!position) return null;
  const { next, motion } = position;
  const moment = show.moments.find(({ id }) => id === next?.id);
  if (!next || !moment) return <>No moment is due any more.</>;
  const left = next.ms - positionAt(motion, now);
  return (
    <>
      Next: <b className="text-tawny-2">{momentName(moment)}</b>
      {motion.speed > 0 ? (
        <>
          {' '}
          in <span className="font-mono">{spanWords(left / motion.speed)}</span>
        </>
      ) : (
        ' once it runs'
      )}
      .
    </>
  );
}
