/** An open motion: its scope, what it makes, how it moves and what it sends, with what it makes just now. */
import { Play, RotateCcw, SkipBack, SkipForward, Square } from 'lucide-react';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { MAKES } from '@tawny-signal/core/motion/makes';
import { noteName } from '@tawny-signal/core/midi/words';
import { offWords } from '@tawny-signal/core/motion/words';
import { writePercent } from '@tawny-signal/core/typed/rate';
import type { Motion } from '@tawny-signal/core/show/motion';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import { RemoveButton } from '../show/removing';
import { useChangeRow } from '../show/show';
import { BareButton, Button } from '../ui/button';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { MakeFields } from './make-fields';
import { BeginFields, DriveFields, MovedBy } from './moves-part';
import { Scope } from './scope';
import { SendsPart } from './sends-part';
import { MotionShapeFields } from './shape-fields';
import { useMotionAct, useVoiceCount, useVoices } from './use-motion';

export function MotionDetail({ motion, show }: { motion: Motion; show: Show }) {
  const { mutateAsync } = useChangeRow('motions');
  const save = (change: Partial<Motion>): Promise<unknown> => mutateAsync({ id: motion.id, change });
  const props = { motion, show, save };
  return (
    <div className="lg:pl-11">
      <Scope motion={motion} />
      <div className="grid lg:grid-cols-2 xl:grid-cols-3">
        <Part title="Makes">
          <MakeFields makes={motion.makes} motion={motion} show={show} save={(makes) => save({ makes })} />
          <MotionShapeFields {...props} />
        </Part>
        <Part title="Moves">
          <DriveFields {...props} />
          <BeginFields {...props} />
          <MovedBy motion={motion} show={show} />
        </Part>
        <Part title="Sends">
          <SendsPart {...props} />
        </Part>
      </div>
      <JustNow motion={motion} show={show} />
      <Actions {...props} />
    </div>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section
      aria-label={title}
      className="border-rule px-3 pt-1 pb-2.5 max-lg:not-last:border-b lg:not-last:border-r"
    >
      <h2 className="flex min-h-8 items-center text-sm font-semibold text-tawny-2">{title}</h2>
      {children}
    </section>
  );
}

const MOST_SAID = 4;

/** What each voice makes now, and what has moved its settings. */
function JustNow({ motion, show }: { motion: Motion; show: Show }) {
  const { mutate: act } = useMotionAct();
  const voices = useVoices(motion.id) ?? [];
  const moved = useLiveValue('motions', (store) => store.motions().moved[motion.id], 100);
  const settings = Object.entries(moved ?? {}).flatMap(([name, value]) =>
    value === null ? [] : [`${name} ${writePercent(value as number)}`],
  );
  const shapedWords = (shaped: number): string =>
    motion.shape.scale ? noteName(shaped, show.settings.middleC) : writePercent(shaped);
  return (
    <p
      data-just-now
      className="border-t border-dashed border-rule px-3 py-2 font-mono text-xs text-ink-2 tabular-nums"
    >
      {voices.length === 0
        ? (offWords(motion, show) ?? 'It does not run now.')
        : voices.slice(0, MOST_SAID).map(({ note, made, shaped }, at) => (
            <span key={at} className="mr-4">
              {note && `${noteName(note.number, show.settings.middleC)} `}
              <b className="text-dusk">{made === null ? 'no value yet' : writePercent(made)}</b>
              {shaped !== null && (
                <>
                  {' '}
                  → <b className="text-tawny">{shapedWords(shaped)}</b>
                </>
              )}
            </span>
          ))}
      {voices.length > MOST_SAID && `and ${voices.length - MOST_SAID} more`}
      {settings.length > 0 && (
        <span>
          {' '}
          moved: <b className="text-ink">{settings.join(', ')}</b>{' '}
          <BareButton
            needs="operator"
            className="min-h-8 px-2 text-tawny-2 underline"
            onClick={() => act({ id: motion.id, act: 'reset' })}
          >
            As written
          </BareButton>
        </span>
      )}
    </p>
  );
}

interface ActionsProps {
  motion: Motion;
  save: (change: Partial<Motion>) => Promise<unknown>;
}

function Actions({ motion, save }: ActionsProps) {
  const { mutate: act } = useMotionAct();
  const go = useNavigate();
  const runs = useVoiceCount(motion.id) > 0;
  const steps = MAKES[motion.makes.kind].cycles && motion.drive.by === 'steps';
  const button = (words: string, icon: ReactNode, what: Parameters<typeof act>[0]['act']): ReactNode => (
    <Button needs="operator" look="bare" onClick={() => act({ id: motion.id, act: what })}>
      {icon} {words}
    </Button>
  );
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-rule px-3 py-1.5">
      <div className="w-72">
        <TypedField label="Name" value={motion.name} commit={(name) => save({ name })} />
      </div>
      <Switch label="On" on={motion.on} change={(on) => void save({ on }).catch(() => undefined)} />
      <div className="ml-auto flex flex-wrap items-center gap-1">
        {runs
          ? button('Begin again', <RotateCcw size={14} aria-hidden />, 'start')
          : button('Start', <Play size={14} aria-hidden />, 'start')}
        {steps && button('Back', <SkipBack size={14} aria-hidden />, 'back')}
        {steps && button('Next', <SkipForward size={14} aria-hidden />, 'next')}
        {runs && button('Stop', <Square size={13} aria-hidden />, 'stop')}
        <RemoveButton table="motions" row={{ id: motion.id, name: motion.name }} after={() => go('/motion')}>
          Remove
        </RemoveButton>
      </div>
    </div>
  );
}
