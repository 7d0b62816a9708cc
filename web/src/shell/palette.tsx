/** The search box for pages, lines, mappings and actions. */
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useNavigate } from 'react-router';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { hearDetail } from '@tawny-signal/core/hears';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { sendTitle } from '@tawny-signal/core/sends';
import { usePanic, useShow, useUndo } from '../show/show';
import { focusPage } from './focus-page';
import { PLACES, type Place } from './places';

const ITEM = 'flex min-h-8 items-center justify-between gap-4 rounded px-2 aria-selected:bg-bark-2';
/** Pages within a place that can be found by name. */
const PAGES: Place[] = [
  { path: '/start', words: 'First steps' },
  { path: '/shows', words: 'Shows and versions' },
  { path: '/mappings/preflight', words: 'Preflight' },
  { path: '/mappings/layouts', words: 'Layouts' },
  { path: '/order/time', words: 'Running order along time' },
  { path: '/order/looks', words: 'Looks and groups' },
  { path: '/order/files', words: 'MIDI files' },
  { path: '/prompt/log', words: 'Log of the show' },
  { path: '/lines/routes', words: 'Routes' },
  { path: '/traffic/keyboard', words: 'Keyboard' },
];
/** cmdk ranks every item at each key press. With more mappings than this, that would be noticeable. */
const MOST_MAPPINGS = 500;

interface PaletteProps {
  open: boolean;
  setOpen: (open: boolean) => void;
  showPads: () => void;
}

export function Palette({ open, setOpen, showPads }: PaletteProps) {
  const show = useShow();
  const go = useNavigate();
  const panic = usePanic();
  const undo = useUndo();
  const then = (act: () => unknown) => () => {
    setOpen(false);
    act();
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-paper/70" />
        <Dialog.Content
          aria-describedby={undefined}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            focusPage();
          }}
          className="fixed top-24 left-1/2 z-50 w-[min(35rem,calc(100vw-1rem))] -translate-x-1/2 rounded border border-rule bg-raised p-2 shadow-xl"
        >
          <Dialog.Title className="sr-only">Find anything</Dialog.Title>
          <Command label="Find anything">
            <Command.Input
              placeholder="Find a place, a line, a mapping …"
              className="h-9 w-full rounded border border-rule bg-paper px-2"
            />
            <Command.List className="max-h-90 overflow-y-auto pt-2">
              <Command.Empty className="px-2 py-3 text-ink-2">No match.</Command.Empty>
              {[...PLACES, ...PAGES].map(({ path, words }) => (
                <Command.Item
                  key={path}
                  value={`${words} place`}
                  className={ITEM}
                  onSelect={then(() => go(path))}
                >
                  {words} <span className="text-xs text-ink-3">place</span>
                </Command.Item>
              ))}
              {show.lines.map((line) => (
                <Command.Item
                  key={line.id}
                  value={`${line.name} line ${line.id}`}
                  className={ITEM}
                  onSelect={then(() => go(`/lines/${line.id}`))}
                >
                  {line.name} <span className="text-xs text-ink-3">line</span>
                </Command.Item>
              ))}
              {show.mappings.slice(0, MOST_MAPPINGS).map((mapping) => (
                <Command.Item
                  key={mapping.id}
                  value={`${mappingName(mapping)} mapping ${mapping.sends.map((send) => sendTitle(send, show.settings.middleC)).join(' ')} ${mapping.id}`}
                  className={ITEM}
                  onSelect={then(() => go(`/mappings/${mapping.id}`))}
                >
                  <span className="truncate">{mappingName(mapping)}</span>
                  <span className="shrink-0 text-xs text-ink-3">
                    {hearDetail(mapping.hear, show.settings.middleC)}
                  </span>
                </Command.Item>
              ))}
              {show.motions.map((motion) => (
                <Command.Item
                  key={motion.id}
                  value={`${motion.name} motion ${motion.id}`}
                  className={ITEM}
                  onSelect={then(() => go(`/motion/${motion.id}`))}
                >
                  <span className="truncate">{motion.name}</span>
                  <span className="text-xs text-ink-3">motion</span>
                </Command.Item>
              ))}
              {show.moments.map((moment) => (
                <Command.Item
                  key={moment.id}
                  value={`${moment.name} ${moment.cue} moment ${moment.id}`}
                  className={ITEM}
                  onSelect={then(() => go(`/order/${moment.id}`))}
                >
                  <span className="truncate">{momentName(moment)}</span>
                  <span className="text-xs text-ink-3">moment</span>
                </Command.Item>
              ))}
              <Command.Item value="do panic release" className={ITEM} onSelect={then(() => panic.mutate())}>
                Panic <span className="font-mono text-xs text-ink-3">Shift+Esc</span>
              </Command.Item>
              <Command.Item value="do pads faders on the screen" className={ITEM} onSelect={then(showPads)}>
                Show the pads on the screen
              </Command.Item>
              <Command.Item value="do undo" className={ITEM} onSelect={then(() => undo.mutate('undo'))}>
                Undo <span className="font-mono text-xs text-ink-3">Ctrl+Z</span>
              </Command.Item>
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
