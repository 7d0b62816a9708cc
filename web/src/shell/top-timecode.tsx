/** The position, visible on every page, with where it comes from. */
import { Link } from 'react-router';
import { RATES } from '@tawny-signal/core/timecode/frame-rate';
import { useShow } from '../show/show';
import { usePositionSeen, useTimecodeText } from '../time/use-position';
import { modeWords, sourceName } from '../time/words';

const COLOURS = {
  own: 'text-ink-2',
  following: 'text-moss',
  riding: 'text-straw',
  lost: 'text-brick',
  standing: 'text-ink-2',
};

export function TopTimecode() {
  const show = useShow();
  const position = usePositionSeen();
  const rate = show.settings.timecode.frameRate;
  const text = useTimecodeText(rate);
  // A show without any timecode needs none in sight.
  const used = show.timeSources.length + show.timeOutputs.length > 0 || (position?.motion.ms ?? 0) > 0;
  const mode = position?.mode ?? 'own';
  const running = (position?.motion.speed ?? 0) !== 0;
  return (
    <Link
      to="/time"
      hidden={!used}
      title={position ? `${RATES[rate].words}, ${modeWords(position, show)}` : undefined}
      className="rounded px-1 py-1 text-right leading-none hover:bg-bark"
    >
      <span className="sr-only">Position: </span>
      <span
        ref={text}
        className={`block pb-1 font-mono text-base font-semibold tabular-nums ${mode === 'own' && running ? 'text-moss' : COLOURS[mode]}`}
      />{' '}
      <span className="block max-w-28 truncate text-xs text-ink-2">
        {mode === 'riding' || mode === 'lost' ? `! ${mode === 'lost' ? 'lost' : 'silent'}: ` : ''}
        {position ? sourceName(show, position.counts) : ''}
      </span>
    </Link>
  );
}
