/** The MIDI ports of this browser, and which of them are lines. */
import { beginning, cutText, NAME_LENGTH } from '@tawny-signal/core/show/text';
import { useNavigate } from 'react-router';
import { useBrowserMidi, useLive } from '../live/live';
import { useAddRow, useShow } from '../show/show';
import { Button } from '../ui/button';
import { freeName } from '../show/free-name';
import { unsupportedWords } from '../ui/secure-page';

const WORDS = {
  unsupported: unsupportedWords(
    'This browser has no Web MIDI. Use one built on Chromium, or connect the controller to the server’s machine.',
  ),
  unasked: 'MIDI devices plugged into this machine can be lines. The browser will ask you to allow it.',
  asking: 'The browser is asking: allow MIDI devices, near the address bar.',
  refused:
    'MIDI is not allowed in this browser for this page. Allow it in the page’s settings, beside the address, then try again.',
  open: 'Nothing is plugged in. A controller that is plugged in later appears here by itself.',
};

export function BrowserPorts() {
  const { midi } = useLive();
  const { state, sysex, ports, held } = useBrowserMidi();
  return (
    <section aria-label="This browser’s MIDI ports" className="pt-6">
      <h2 className="pb-1 font-semibold">This browser’s MIDI ports</h2>
      {ports.length === 0 && (
        <p
          className={`text-sm ${state === 'refused' || state === 'unsupported' ? 'text-brick' : 'text-ink-2'}`}
        >
          {WORDS[state]}
        </p>
      )}
      {(state === 'unasked' || state === 'refused') && (
        <Button needs="operator" className="mt-2" onClick={() => void midi.allow()}>
          {state === 'refused' ? 'Try again' : 'Allow MIDI'}
        </Button>
      )}
      {state === 'open' && !sysex && (
        <p className="pb-1 text-sm text-ink-2">
          System-exclusive, which show control uses, is not allowed yet.{' '}
          <Button needs="operator" look="bare" onClick={() => void midi.allow(true)}>
            Allow system-exclusive
          </Button>
        </p>
      )}
      <ul>
        {ports.map((port) => (
          <BrowserPort
            key={port.name}
            name={port.name}
            directions={[port.in && 'in', port.out && 'out'].filter(Boolean).join(' and ')}
            held={held.includes(port.name)}
          />
        ))}
      </ul>
    </section>
  );
}

interface BrowserPortProps {
  name: string;
  directions: string;
  /** True if another program uses it. */
  held: boolean;
}

function BrowserPort({ name, directions, held }: BrowserPortProps) {
  const { lines } = useShow();
  const add = useAddRow('lines');
  const go = useNavigate();
  const line = lines.find((candidate) => candidate.kind === 'midi-browser' && candidate.port === name);
  async function use(): Promise<void> {
    const made = await add.mutateAsync({
      kind: 'midi-browser',
      name: freeName(lines, beginning(cutText(name, NAME_LENGTH), NAME_LENGTH)),
      port: name,
    });
    void go(`/lines/${made.id}`);
  }
  return (
    <li className="flex min-h-10 items-center gap-4 border-b border-rule">
      <span className="font-semibold">{name}</span>
      <span className="text-sm text-ink-2">{directions}</span>
      {held && <span className="text-sm text-brick">in use by another program: close it there</span>}
      <span className="ml-auto text-sm text-ink-2">
        {line ? (
          `is the line ${line.name}`
        ) : (
          <Button needs="edit" onClick={() => void use().catch(() => undefined)}>
            Use as a line
          </Button>
        )}
      </span>
    </li>
  );
}
