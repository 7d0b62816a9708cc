/** Catches up to a moment: first shows what would change, line by line, and how long it takes; then does it. A jump back undoes it. */
import { useState } from 'react';
import { previewCatchUp, stays } from '@tawny-signal/core/cues/preview';
import { count } from '@tawny-signal/core/plural';
import type { Show } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { PreviewRows, useLevelNow } from '../prompt/will-do';
import { useOrderAct } from '../show/order-edits';
import { Button } from '../ui/button';
import { notify } from '../ui/notice';
import { Pop } from '../ui/pop';
import { NotOfTheShow } from '../ui/read-only';
import { TimeField } from '../ui/time-field';

const LONGEST_MS = 60_000;

export function CatchUp({ moment, show }: { moment: Moment; show: Show }) {
  const [open, setOpen] = useState(false);
  return (
    <Pop
      align="start"
      width="w-160"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button
          needs="caller"
          title="Every line gets what it would have by now from the rows above, but no notes. First shows what would change."
        >
          Catch up to here …
        </Button>
      }
    >
      <NotOfTheShow needs="caller">
        <Plan moment={moment} show={show} done={() => setOpen(false)} />
      </NotOfTheShow>
    </Pop>
  );
}

function Plan({ moment, show, done }: { moment: Moment; show: Show; done: () => void }) {
  const act = useOrderAct();
  const levelNow = useLevelNow();
  const [fadeMs, setFadeMs] = useState(0);
  const rows = previewCatchUp(show, moment.id, fadeMs, levelNow);
  const changes = rows.filter((row) => !stays(row));
  const jump = (): void => act.mutate({ do: 'jumpBack', fadeMs });
  const go = (): void =>
    act.mutate(
      { do: 'standBy', id: moment.id, catchUp: true, fadeMs },
      {
        onSuccess() {
          done();
          notify(`Caught up to ${momentName(moment)}.`, { act: { words: 'Jump back', run: jump } });
        },
      },
    );
  return (
    <div data-catch-up>
      <h2 className="pb-1 text-base font-semibold">Catch up to {momentName(moment)}</h2>
      <p className="pb-2 text-sm text-ink-2">
        {changes.length === 0
          ? 'Nothing would change: every line has this already. The moment will stand by.'
          : `${count(changes.length, 'change')} to the stage; ${count(rows.length - changes.length, 'place stays', 'places stay')} as now. Notes are not sent.`}
      </p>
      <div className="max-h-72 overflow-y-auto">
        <PreviewRows show={show} rows={changes} most={40} />
      </div>
      <div className="max-w-80 pt-2">
        <TimeField
          label="Over"
          ms={fadeMs}
          unit="s"
          highMs={LONGEST_MS}
          none={{ words: 'at once', commit: () => setFadeMs(0) }}
          hint="How long levels take. Everything else changes at once."
          commit={setFadeMs}
        />
      </div>
      <div className="flex gap-2 pt-3">
        <Button needs="caller" look="main" onClick={go}>
          Catch up {fadeMs > 0 ? `over ${fadeMs / 1000} s` : 'now'}
        </Button>
        <Button onClick={done}>Cancel</Button>
      </div>
    </div>
  );
}
