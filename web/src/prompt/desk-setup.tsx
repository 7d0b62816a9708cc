/** The settings of the desk: those of the show, such as keys and times, and those of this browser. */
import { cutText } from '@tawny-signal/core/show/text';
import { SlidersHorizontal } from 'lucide-react';
import { DESK_ACTS, type DeskAct } from '@tawny-signal/core/show/desk-keys';
import type { Settings } from '@tawny-signal/core/show';
import { changeThisDesk, useThisDesk } from '../show/this-desk';
import { useChangeSettings } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { KeyField } from '../ui/key-field';
import { NotOfTheShow } from '../ui/read-only';
import { Pop } from '../ui/pop';
import { Switch } from '../ui/switch';
import { TimeField } from '../ui/time-field';
import { TypedField } from '../ui/typed-field';
import { notify } from '../ui/notice';

export const DESK_WORDS: Record<DeskAct, string> = {
  go: 'Go',
  hold: 'Hold',
  back: 'Back one',
  stopAll: 'Stop all',
  fadeOut: 'Fade out',
};

const TIMES = [
  {
    of: 'guardMs',
    label: 'Guard',
    unit: 'ms',
    highMs: 10_000,
    hint: 'Ignore a second Go within this time.',
  },
  {
    of: 'stopAllMs',
    label: 'Fade out',
    unit: 's',
    highMs: 60_000,
    hint: 'How long Fade out takes to fade the lights.',
  },
] as const;

export function DeskSetup({ settings }: { settings: Settings }) {
  const { mutateAsync: save } = useChangeSettings();
  const desk = useThisDesk();
  return (
    <Pop
      side="left"
      align="end"
      width="w-96 max-h-[80vh] overflow-y-auto"
      trigger={
        <Button className="h-11 w-full">
          <SlidersHorizontal size={16} aria-hidden /> Set up this desk
        </Button>
      }
    >
      <NotOfTheShow>
        <h2 className="pb-1 font-semibold">This browser</h2>
        <TypedField
          label="Name"
          value={desk.name}
          placeholder="like Front of house"
          hint="The log says which desk called."
          commit={(name) => changeThisDesk({ name: cutText(name, 40) })}
        />
        <div className="pl-24">
          <Switch label="Only watch" on={desk.watches} change={(watches) => changeThisDesk({ watches })} />
          <p className="text-xs text-ink-3">This browser can only press Panic.</p>
        </div>
      </NotOfTheShow>
      <h2 className="mt-3 border-t border-rule pt-3 pb-1 font-semibold">The show</h2>
      {TIMES.map(({ of, ...field }) => (
        <TimeField key={of} {...field} ms={settings[of]} commit={(ms) => save({ [of]: ms })} />
      ))}
      <Choice
        label="Unlock"
        value={settings.unlock}
        options={[
          { value: 'hold' as const, words: 'By holding the button' },
          { value: 'ask' as const, words: 'After a question' },
        ]}
        hint="How a locked show is unlocked."
        choose={(unlock) => save({ unlock })}
      />
      <Choice
        label="Power cut"
        value={settings.afterRestart}
        options={[
          { value: 'left' as const, words: 'Fades stay where they were' },
          { value: 'ended' as const, words: 'Fades are at their ends' },
        ]}
        hint="What happens to running fades when the server is restarted."
        choose={(afterRestart) => save({ afterRestart })}
      />
      <h2 className="mt-3 border-t border-rule pt-3 pb-1 font-semibold">Keys</h2>
      {DESK_ACTS.map((act) => (
        <KeyField
          key={act}
          label={DESK_WORDS[act]}
          code={settings.deskKeys[act]}
          choose={(code) =>
            save({ deskKeys: { ...settings.deskKeys, [act]: code } }).catch((error: unknown) => {
              notify(error instanceof Error ? error.message : String(error), { look: 'fault' });
              throw error;
            })
          }
        />
      ))}
      <p className="pt-1 text-xs text-ink-3">
        Panic is Shift+Esc everywhere. Space presses the button that has the focus.
      </p>
    </Pop>
  );
}
