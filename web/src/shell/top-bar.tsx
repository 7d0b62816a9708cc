import { Ellipsis, Grid3x3, Lock, Menu, Moon, Redo2, ScrollText, Sun, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Link, NavLink } from 'react-router';
import { useLiveValue } from '../live/live';
import { useArm, useEdits, usePanic, useUndo, useUndoLabels } from '../show/show';
import { Button, IconButton } from '../ui/button';
import { Pop } from '../ui/pop';
import { useIsVeryWide, useIsWide } from '../ui/use-media';
import { HereButton } from '../people/here-button';
import { useMay } from '../people/me';
import { Who } from '../people/who';
import { PLACES } from './places';
import { ShowName } from './show-name';
import { Tempo } from './tempo';
import { setTheme, useTheme } from './theme';
import { TopTimecode } from './top-timecode';

interface PadsProps {
  /** Whether the pads on the screen are shown. */
  pads: boolean;
  setPads: (shown: boolean) => void;
}

export function TopBar(props: PadsProps) {
  const isWide = useIsWide();
  const isVeryWide = useIsVeryWide();
  return (
    <header className="flex h-13 shrink-0 items-stretch border-b border-rule bg-raised print:hidden">
      {isWide ? <Brand /> : <PlacesMenu {...props} />}
      {isWide && (
        <nav aria-label="Places" className="flex items-stretch">
          <PlaceLinks look="flex items-center border-b-3 px-1.5 xl:px-2 xl:whitespace-nowrap" />
        </nav>
      )}
      {!isWide && (
        <div className="flex min-w-0 flex-1 items-center">
          <ShowName />
        </div>
      )}
      <div className="ml-auto flex shrink-0 items-center gap-1.5 pr-2 lg:pr-3.5">
        {isVeryWide ? (
          <div className="flex items-center">
            <Tools {...props} />
          </div>
        ) : (
          isWide && <MoreMenu {...props} />
        )}
        {isWide && <Tempo />}
        {isWide && <TopTimecode />}
        <ArmedButton />
        <PanicButton />
      </div>
    </header>
  );
}

function Brand() {
  return (
    <div className="flex w-38 shrink-0 items-center gap-2 pl-3 xl:w-44 xl:gap-2.5 xl:pl-3.5">
      <img src="/owl.svg" alt="" width={30} height={24} />
      <div className="min-w-0">
        <div className="leading-5 font-bold">Tawny Signal</div>
        <ShowName />
      </div>
    </div>
  );
}

function PlaceLinks({ look, done }: { look: string; done?: () => void }) {
  return PLACES.map(({ path, words }) => (
    <NavLink
      key={path}
      to={path}
      {...(done && { onClick: done })}
      className={({ isActive }) =>
        `${look} ${isActive ? 'border-tawny font-semibold text-ink' : 'border-transparent text-ink-2 hover:text-ink'}`
      }
    >
      {words}
    </NavLink>
  ));
}

/** The places and everything else of the top bar, on a narrow screen. */
function PlacesMenu(props: PadsProps) {
  const [open, setOpen] = useState(false);
  return (
    <Pop
      align="start"
      width="w-80"
      open={open}
      setOpen={setOpen}
      trigger={
        <button type="button" aria-label="Places" className="flex w-12 items-center justify-center">
          <Menu size={20} aria-hidden />
        </button>
      }
    >
      <nav aria-label="Places" className="flex flex-col pb-2">
        <PlaceLinks look="flex min-h-11 items-center border-l-3 px-3 text-base" done={() => setOpen(false)} />
      </nav>
      <div className="flex flex-wrap items-center gap-1 border-t border-rule pt-2">
        <Tools {...props} />
        <Tempo />
        <TopTimecode />
      </div>
    </Pop>
  );
}

function MoreMenu(props: PadsProps) {
  return (
    <Pop
      align="end"
      width="w-auto"
      trigger={
        <IconButton label="Pads, undo, changes, theme">
          <Ellipsis size={17} aria-hidden />
        </IconButton>
      }
    >
      <div className="flex items-center gap-1">
        <Tools {...props} />
      </div>
    </Pop>
  );
}

function Tools({ pads, setPads }: PadsProps) {
  return (
    <>
      <IconButton
        needs="operator"
        label={pads ? 'Hide the pads on the screen' : 'Show the pads on the screen'}
        aria-pressed={pads}
        onClick={() => setPads(!pads)}
      >
        <Grid3x3 size={17} aria-hidden />
      </IconButton>
      <HereButton />
      <Changes />
      <Who>
        <ThemeButton />
      </Who>
    </>
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
        needs="edit"
        label={labels.undo === null ? 'Nothing to undo' : `Undo: ${labels.undo} (Ctrl+Z)`}
        disabled={labels.undo === null}
        onClick={() => step.mutate('undo')}
      >
        <Undo2 size={17} aria-hidden />
      </IconButton>
      <IconButton
        needs="edit"
        label={labels.redo === null ? 'Nothing to redo' : `Redo: ${labels.redo} (Ctrl+Shift+Z)`}
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
        {edits.length === 0 && <p className="text-ink-2">Nothing has been changed yet.</p>}
        <ol className="max-h-96 overflow-y-auto">
          {edits.map((edit) => (
            <li key={edit.id} className="flex justify-between gap-3 border-t border-rule py-1.5">
              <span>
                {edit.kind === 'undo' ? 'Undone: ' : edit.kind === 'redo' ? 'Redone: ' : ''}
                {edit.label}
                {edit.by !== '' && <span className="text-ink-2"> by {edit.by}</span>}
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
  const isOperator = useMay('operator');
  const armed = desk?.armed ?? true;
  if (desk?.locked)
    return (
      <Link
        to="/prompt"
        title="Locked: armed, and nothing can be edited. Unlock it on the prompt desk."
        className="inline-flex min-h-8 items-center gap-1.5 rounded border border-tawny px-3 text-tawny-2"
      >
        <Lock size={14} aria-hidden /> Locked
      </Link>
    );
  return (
    <Button
      aria-pressed={armed}
      disabled={!isOperator}
      title={
        armed
          ? 'Armed: signals are sent. Press to make the show safe.'
          : 'Safe: nothing is sent. Press to arm the show.'
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
  const mayPanic = useMay('caller');
  return (
    <Button
      look="danger"
      disabled={!mayPanic}
      title={
        mayPanic
          ? 'Release everything that sounds or is held (Shift+Esc)'
          : 'Callers and operators have Panic; you are an onlooker.'
      }
      onClick={() => panic.mutate()}
    >
      Panic
    </Button>
  );
}
