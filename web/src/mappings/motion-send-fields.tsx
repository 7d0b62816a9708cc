/** The form of a send that moves a motion. One can be made there and then. */
import { Plus } from 'lucide-react';
import { Link } from 'react-router';
import { MOTION_ACTS, isSetting } from '@tawny-signal/core/motion/acts';
import { MOTION_ACT_WORDS } from '@tawny-signal/core/sends/motion';
import type { SendOf } from '@tawny-signal/core/sends';
import { freeName } from '../show/free-name';
import { useAddRow } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { FollowSwitch, type FormProps } from './send-form';

const first = (words: string): string => words[0]!.toUpperCase() + words.slice(1);

export function MotionFields({ send, show, save, heard }: FormProps<SendOf<'motion'>>) {
  const add = useAddRow('motions');
  const chosen = show.motions.find(({ id }) => id === send.motionId);
  // A moment never lets go.
  const acts = heard ? MOTION_ACTS : MOTION_ACTS.filter((act) => act !== 'press');
  async function make(): Promise<void> {
    const made = await add.mutateAsync({
      name: freeName(show.motions, 'Motion'),
      begins: 'asked',
    });
    await save({ ...send, motionId: made.id });
  }
  return (
    <>
      <Choice
        label="Motion"
        value={send.motionId}
        placeholder="Choose a motion"
        options={show.motions.map(({ id, name }) => ({ value: id, words: name }))}
        choose={(motionId) => save({ ...send, motionId })}
      />
      <div className="flex flex-wrap items-center gap-x-2 pl-22">
        {chosen ? (
          <Link to={`/motion/${chosen.id}`} className="px-2 py-1 text-sm text-tawny-2 underline">
            Open {chosen.name}
          </Link>
        ) : (
          <Button needs="edit" look="bare" onClick={() => void make().catch(() => undefined)}>
            <Plus size={14} aria-hidden /> Make a motion
          </Button>
        )}
      </div>
      <Choice
        label="Act"
        value={send.act}
        options={acts.map((act) => ({ value: act, words: first(MOTION_ACT_WORDS[act]) }))}
        hint={isSetting(send.act) ? 'By the shaped value.' : undefined}
        choose={(act) => save({ ...send, act })}
      />
      {heard && !isSetting(send.act) && <FollowSwitch send={send} save={save} />}
    </>
  );
}
