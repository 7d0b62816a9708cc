/** Moves the times of all moments together. */
import { useState } from 'react';
import type { Show } from '@tawny-signal/core/show';
import { readOffset } from '@tawny-signal/core/timecode/offset';
import { count } from '@tawny-signal/core/plural';
import { useSetTimes } from '../show/order-edits';
import { Button } from '../ui/button';
import { orThrow } from '../ui/or-throw';
import { Pop } from '../ui/pop';
import { TypedField } from '../ui/typed-field';
import { placedMoments } from './strip-layout';
import { shiftedTimes } from './shifted-times';

export function ShiftAll({ show }: { show: Show }) {
  const [open, setOpen] = useState(false);
  const set = useSetTimes();
  const rate = show.settings.timecode.frameRate;
  const placed = placedMoments(show);
  return (
    <Pop
      align="end"
      width="w-80"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button needs="edit" look="bare" className="text-sm">
          Shift all times
        </Button>
      }
    >
      <TypedField
        label="Shift by"
        value=""
        placeholder="+00:00:02:00"
        hint={`Moves ${count(placed.length, 'moment')} by as much. A bare number is in frames.`}
        commit={async (text) => {
          await set.mutateAsync(shiftedTimes(placed, orThrow(readOffset(text, rate)), rate));
          setOpen(false);
        }}
      />
    </Pop>
  );
}
