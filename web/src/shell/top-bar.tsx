import { Lock, Moon, Redo2, ScrollText, Sun, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Link, NavLink } from 'react-router';
import { useLiveValue } from '../live/live';
import { useArm, useEdits, usePanic, useUndo, useUndoLabels } from '../show/show';
import { Button, IconButton } from '../ui/button';
import { Pop } from '../ui/pop';
import { PLACES } from './places';
import { ShowName } from './show-name';
import { Tempo } from './tempo';
import { setTheme, useTheme } from './theme';

export function TopBar() {
  return (
    <header className="flex h-13 items-stretch border-b print:hidden border-rule bg-raised">
      <div className="flex w-53 shrink-0 items-center gap-2.5 px-3.5">
        <img src="/owl.svg" alt="" width={30} height={24} />
        <div>
          <div className="leading-5 font-bold">Tawny Signal</div>
          <ShowName />
        </div>
      </div>
      <nav aria-label="Places" className="flex items-stretch pl-3.5">
        {PLACES.map(({ path, words }) => (
          <NavLink
            key={path}
            to={path}
            className={({ isActive }) =>
              `flex items-center border-b-3 px-3 ${isActive ? 'border-tawny font-semibold text-ink' : 'border-transparent text-ink-2 hover:text-ink'}`
            }
          >
            {words}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-1.5 pr-3.5">
        <Changes />
        <ThemeButton />
        <Tempo />
        <Clock value="–:–:–:–" words="no timecode" />
        <ArmedButton />
        <PanicButton />
      </div>
    </header>
  );
}

function Clock({ value, words }: { value: string; words: string }) {
  return (
    <div className="px-2 text-right leading-none">
      <div className="pb-1 font-mono text-base font-semibold">{value}</div>
      <div className="text-xs text-ink-3">{words}</div>
    </div>
  );
}

function Changes() {
  const [open, setOpen] = useState(false);
  const labels = useUndoLabels();
  const edits = useEdits(open);
  const step = useUndo();
  return (
    <>
      <IconButton
        label={labels.undo === null ? 'Nothing to undo' : `Undo: ${labels.undo} (Ctrl+Z)`}
        disabled={labels.undo === null}
        onClick={() => step.mutate('undo')}
      >
        <Undo2 size={17} aria-hidden />
      </IconButton>
      <IconButton
        label={labels.redo === null ? 'Nothing to do again' : `Do again: ${labels.redo} (Ctrl+Shift+Z)`}
        disabled={labels.redo === null}
        onClick={() => step.mutate('redo')}
      >
        <Redo2 size={17} aria-hidden />
      </IconButton>
      <Pop
        align="end"
        width="w-84"
        open={open}
        setOpen={setOpen}
        trigger={
          <IconButton label="List of changes">
            <ScrollText size={17} aria-hidden />
          </IconButton>
        }
      >
        <h2 className="pb-2 text-base font-semibold">Changes, the newest first</h2>
        {edits.length === 0 && <p className="text-ink-2">Nothing was changed yet.</p>}
        <ol className="max-h-96 overflow-y-auto">
          {edits.map((edit) => (
            <li key={edit.id} className="flex justify-between gap-3 border-t border-rule py-1.5">
              <span>
                {edit.kind === 'undo' ? 'Undone: ' : edit.kind === 'redo' ? 'Done again: ' : ''}
                {edit.label}
              </span>
              <time className="shrink-0 font-mono text-ink-3">
                {new Date(edit.at).toLocaleTimeString('en-GB')}
              </time>
            </li>
          ))}
        </ol>
      </Pop>
    </>
  );
}

function ThemeButton() {
  const theme = useTheme();
  return (
    <IconButton
      label={theme === 'dark' ? 'Daylight theme' : 'Dark theme'}
      onClick={() => setTheme(theme === 'dark' ? 'daylight' : 'dark')}
    >
      {theme === 'dark' ? <Sun size={17} aria-hidden /> : <Moon size={17} aria-hidden />}
    </IconButton>
  );
}

function ArmedButton() {
  const desk = useLiveValue('desk', (store) => store.desk());
  const arm = useArm();
  const armed = desk?.armed ?? true;
  if (desk?.locked)
    return (
      <Link
        to="/prompt"
        title="Armed, and nothing can be edited. Unlock it on the prompt desk."
        className="inline-flex min-h-8 items-center gap-1.5 rounded border border-tawny px-3 text-tawny-2"
      >
        <Lock size={14} aria-hidden /> Locked
      </Link>
    );
  return (
    <Button
      aria-pressed={armed}
      title={
        armed ? 'Signals go out. Press to make the show safe.' : 'Nothing goes out. Press to arm the show.'
      }
      className={armed ? 'border-moss!' : 'border-straw! text-straw!'}
      onClick={() => arm.mutate(!armed)}
    >
      <svg width="10" height="10" viewBox="0 0 10 10" aria-hidden>
        {armed ? (
          <circle cx="5" cy="5" r="4.5" fill="var(--moss)" />
        ) : (
          <rect x="1" y="1" width="8" height="8" fill="none" stroke="var(--straw)" strokeWidth="1.6" />
        )}
      </svg>
      {armed ? 'Armed' : 'Safe'}
    </Button>
  );
}

function PanicButton() {
  const panic = usePanic();
  return (
    <Button
      look="danger"
      title="Release all that sounds or is held (Shift+Esc)"
      onClick={() => panic.mutate()}
    >
      Panic
    </Button>
  );
}
