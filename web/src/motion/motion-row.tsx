/** One motion in the list: what it makes, what moves it, what it makes now, and what it sends. */
import { memo } from 'react';
import { beginWords, driveWords, makeTitle, offWords } from '@tawny-signal/core/motion/words';
import { MAKES } from '@tawny-signal/core/motion/makes';
import { rangeOf, sendDetail, SENDS, sendTitle } from '@tawny-signal/core/sends';
import type { Motion } from '@tawny-signal/core/show/motion';
import type { Show } from '@tawny-signal/core/show';
import { writeScale } from '@tawny-signal/core/typed/range';
import { useLiveValue } from '../live/live';
import { OpenRow } from '../ui/open-row';
import { MotionDetail } from './motion-detail';
import { SmallScope } from './scope';
import { useVoiceCount } from './use-motion';

export const MOTION_COLUMNS = 'minmax(0,1fr) minmax(0,1fr) minmax(0,1.2fr) minmax(0,1.2fr) 84px';

interface RowProps {
  motion: Motion;
  number: number;
  show: Show;
  open: boolean;
  toggle: (id: string) => void;
}

export const MotionRow = memo(function MotionRow({ motion, number, show, open, toggle }: RowProps) {
  const off = offWords(motion, show);
  const drive = driveWords(motion);
  const begins = beginWords(motion, show);
  return (
    <OpenRow
      number={number}
      open={open}
      toggle={() => toggle(motion.id)}
      columns={MOTION_COLUMNS}
      data={{ 'data-motion': motion.id }}
      summary={
        <>
          <span className="min-w-0 pr-3 pl-3">
            <span className={`block truncate font-semibold ${off ? 'text-ink-2' : ''}`}>{motion.name}</span>
            <span className="block truncate text-xs text-ink-2">
              {off && <span className="text-straw">{off} · </span>}
              {MAKES[motion.makes.kind].words.toLowerCase()}, {makeTitle(motion)}
            </span>
          </span>
          <span className="min-w-0 pr-3 max-lg:pl-3">
            <span className="block truncate">{drive === '' ? begins : drive}</span>
            {drive !== '' && <span className="block truncate text-xs text-ink-2">{begins}</span>}
          </span>
          <span className="min-w-0 pr-4 max-lg:pl-3">
            <SmallScope motion={motion} />
          </span>
          <SendCell motion={motion} show={show} off={off !== null} />
          <Running id={motion.id} />
        </>
      }
    >
      <MotionDetail motion={motion} show={show} />
    </OpenRow>
  );
});

function SendCell({ motion, show, off }: { motion: Motion; show: Show; off: boolean }) {
  const [send, ...more] = motion.sends;
  if (!send)
    return <span className="min-w-0 pr-3 text-sm text-straw max-lg:pl-3">Sends nothing yet: open it.</span>;
  const line = show.lines.find(({ id }) => id === send.lineId);
  const own = SENDS[send.kind].protocol === null;
  const range = motion.shape.scale ? 'notes of a scale' : writeScale(send.range ?? rangeOf(send));
  return (
    <span className="min-w-0 pr-3 max-lg:pl-3">
      <span className={`block truncate font-semibold ${off ? 'text-ink-2' : ''}`}>
        {sendTitle(send, show.settings.middleC)}
        {more.length > 0 && <span className="font-normal text-ink-2"> and {more.length} more</span>}
      </span>
      <span className="block truncate text-xs text-ink-2">
        {own ? (
          'This show'
        ) : line ? (
          `${line.name} · ${sendDetail(send)}`
        ) : (
          <span className="text-brick">No line: choose where it goes</span>
        )}{' '}
        · {range}
      </span>
    </span>
  );
}

function Running({ id }: { id: string }) {
  const count = useVoiceCount(id);
  const waits = useLiveValue(
    'motions',
    ({ motions }) => motions().running[id]?.every(({ made }) => made === null) ?? false,
  );
  return (
    <span
      data-running={count}
      className={`pr-3 text-right text-xs max-lg:absolute max-lg:top-2 max-lg:right-0 ${count > 0 && !waits ? 'text-moss' : 'text-ink-3'}`}
    >
      {count === 0 ? '○ still' : waits ? '○ waits' : count === 1 ? '● runs' : `● ${count} voices`}
    </span>
  );
}
