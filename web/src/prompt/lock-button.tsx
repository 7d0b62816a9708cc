/** Locks and unlocks the show. A locked show is unlocked by holding the button for a second, or by a question, as the show says. */
import { useState } from 'react';
import { Lock, LockOpen } from 'lucide-react';
import type { Settings } from '@tawny-signal/core/show';
import { useLock } from '../show/order-edits';
import { AskDialog } from '../ui/ask-dialog';
import { Button } from '../ui/button';
import { HeldButton } from '../ui/held-button';

interface LockButtonProps {
  locked: boolean;
  armed: boolean;
  unlock: Settings['unlock'];
}

export function LockButton({ locked, armed, unlock }: LockButtonProps) {
  const lock = useLock();
  const [asking, setAsking] = useState(false);
  if (!locked)
    return (
      <Button
        title="A locked show is armed, and nothing in it can be edited."
        className="h-11 w-full"
        onClick={() => lock.mutate(true)}
      >
        <LockOpen size={16} aria-hidden /> {armed ? 'Lock the show' : 'Arm and lock the show'}
      </Button>
    );
  if (unlock === 'hold')
    return (
      <HeldButton
        title="Hold for a second"
        className="h-11 w-full border-tawny!"
        act={() => lock.mutate(false)}
      >
        <Lock size={16} aria-hidden /> Hold to unlock
      </HeldButton>
    );
  return (
    <>
      <Button className="h-11 w-full border-tawny!" onClick={() => setAsking(true)}>
        <Lock size={16} aria-hidden /> Unlock the show
      </Button>
      <AskDialog
        open={asking}
        title="Unlock the show?"
        words="Anybody at this desk can edit it then, and make it safe."
        yes="Unlock"
        no="Keep it locked"
        answer={(yes) => {
          setAsking(false);
          if (yes) lock.mutate(false);
        }}
      />
    </>
  );
}
