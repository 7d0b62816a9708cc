/** The form of each kind of line. */
import type { Line, LineOf } from '@tawny-signal/core/show/line';
import { readPort } from '@tawny-signal/core/typed/range';
import { useBrowserMidi, useKeyboard, useLive } from '../live/live';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TimeField } from '../ui/time-field';
import { TypedField } from '../ui/typed-field';
import { DmxFields } from './dmx-fields';
import { KINDS } from './kinds';
import { HearingFields, TargetFields, type Save } from './network-fields';
import { useChangeRow } from '../show/show';
import { MachineSoundFields } from '../sound/machine-sound-fields';
import { SessionFields } from '../network/session-fields';
import { SoundFields } from '../sound/sound-fields';

export function LineFields({ line }: { line: Line }) {
  const change = useChangeRow('lines');
  const save: Save = (values) => change.mutateAsync({ id: line.id, change: values });
  return (
    <div>
      <TypedField label="Name" value={line.name} commit={(name) => save({ name })} />
      <p className="grid grid-cols-[84px_1fr] gap-x-3 py-1.5 text-sm text-ink-2">
        <span>Kind</span>
        <span className="text-ink">{KINDS[line.kind].words}</span>
      </p>
      <KindFields line={line} save={save} />
      {line.kind !== 'keys-browser' && (
        <TimeField
          label="Delay out"
          ms={line.delayMs}
          unit="ms"
          highMs={10_000}
          hint={line.delayMs > 0 ? 'Everything on this line is sent this much later.' : undefined}
          commit={(delayMs) => save({ delayMs })}
        />
      )}
      {'sysexKb' in line && (
        <TypedField
          label="Longest system-exclusive"
          value={`${line.sysexKb} kB`}
          hint="Longer messages are refused, and the line says so."
          commit={(text) => save({ sysexKb: Number(text.replace(/\s*kB?$/i, '')) })}
        />
      )}
      {'fivePin' in line && (
        <div className="py-1.5 pl-24">
          <Switch
            label="On a 5-pin cable (3,125 bytes a second)"
            on={line.fivePin}
            change={(fivePin) => void save({ fivePin }).catch(() => undefined)}
          />
        </div>
      )}
    </div>
  );
}

const FRAMINGS = [
  { value: 'slip' as const, words: 'SLIP (OSC 1.1)' },
  { value: 'length' as const, words: 'Length before each packet (OSC 1.0)' },
];

/** The ports of the stand-ins. */
const INSIDE_PORTS = ['Pier pads', 'Score player', 'Fog laser', 'Bell player'];

/** The form for the pages that may connect, and where. */
function PageFields({ line, save }: { line: LineOf<'osc-ws'>; save: Save }) {
  const where = line.listenHost === '0.0.0.0' ? location.hostname : line.listenHost;
  return (
    <>
      <TypedField
        label="Secret part"
        value={line.secret}
        placeholder="none: anyone who finds the port may connect"
        hint={`Connect to ws://${where}:${line.listenPort}/${line.secret}`}
        commit={(secret) => save({ secret: secret.trim() })}
      />
      <TypedField
        label="Pages that may connect"
        value={line.pages.join(' ')}
        placeholder="none"
        hint="Where each page is from, like http://127.0.0.1:8080, with spaces between. Programs that are no browser need not be named."
        commit={(text) => save({ pages: text.split(/[\s,;]+/).filter(Boolean) })}
      />
      <div className="py-1.5 pl-24">
        <Switch
          label="Pages without an address too"
          on={line.namelessPages}
          change={(namelessPages) => void save({ namelessPages }).catch(() => undefined)}
        />
        <p className="pt-1 text-xs text-ink-2">
          A page that is opened as a file has none. Any page of the internet can make such a frame too, so
          then only the secret part keeps it out.
        </p>
      </div>
    </>
  );
}

function KindFields({ line, save }: { line: Line; save: Save }) {
  switch (line.kind) {
    case 'osc-udp':
      return (
        <>
          <TargetFields line={line} save={save} />
          <HearingFields line={line} save={save} />
          {line.listenPort !== null && (
            <div className="py-1.5 pl-24">
              <Switch
                label="Send to whoever sent last"
                on={line.answer}
                change={(answer) => void save({ answer }).catch(() => undefined)}
              />
            </div>
          )}
        </>
      );
    case 'osc-tcp':
      return (
        <>
          <TargetFields line={line} save={save} />
          <Choice
            label="Framing"
            value={line.framing}
            options={FRAMINGS}
            choose={(framing) => save({ framing })}
            hint="Both ends must use the same. If nothing is understood, try the other."
          />
          <HearingFields line={line} save={save} />
        </>
      );
    case 'osc-ws':
      return (
        <>
          <TypedField
            label="Connect to"
            value={line.host ?? ''}
            placeholder="nobody: they connect to us"
            commit={(text) => save({ host: text.trim() || null })}
          />
          {line.host !== null && (
            <TypedField
              label="Port"
              value={String(line.port)}
              commit={(text) => save({ port: orThrow(readPort(text)) })}
            />
          )}
          <HearingFields line={line} save={save} />
          {line.listenPort !== null && <PageFields line={line} save={save} />}
        </>
      );
    case 'artnet':
    case 'sacn':
      return <DmxFields line={line} save={save} />;
    case 'midi-browser':
      return <BrowserPortField port={line.port} save={save} />;
    case 'sound-browser':
      return <SoundFields line={line} save={save} />;
    case 'sound-machine':
      return <MachineSoundFields line={line} save={save} />;
    case 'midi-machine':
      return (
        <TypedField
          label="Port"
          value={line.port}
          commit={(port) => save({ port })}
          hint="The port’s name on the server’s machine. If it is not found, the line lists the ports there are."
        />
      );
    case 'midi-virtual':
      return (
        <TypedField
          label="Seen as"
          value={line.port}
          commit={(port) => save({ port })}
          hint="The port’s name for other programs on the server’s machine."
        />
      );
    case 'midi-network':
      return <SessionFields line={line} save={save} />;
    case 'midi-inside':
      return (
        <Choice
          label="Port"
          value={line.port}
          options={INSIDE_PORTS.map((port) => ({ value: port, words: port }))}
          choose={(port) => save({ port })}
        />
      );
    case 'keys-inside':
      return (
        <Choice
          label="Stand-in"
          value={line.port}
          options={[{ value: 'Quay stream', words: 'Quay stream' }]}
          choose={(port) => save({ port })}
        />
      );
    case 'keys-browser':
      return <KeyboardSwitch />;
    case 'keys-machine':
      return (
        <>
          <div className="py-1.5 pl-24">
            <Switch
              label={line.on ? 'Types into this machine' : 'Type into this machine'}
              on={line.on}
              change={(on) => void save({ on }).catch(() => undefined)}
            />
          </div>
          <TypedField
            label="Window"
            value={line.windowTitle}
            placeholder="any window"
            commit={(windowTitle) => save({ windowTitle })}
            hint="Keys are typed only while a window with this in its title is in front."
          />
        </>
      );
  }
}

/** Switches the keyboard of this tab on. */
function KeyboardSwitch() {
  const { keyboard } = useLive();
  const on = useKeyboard();
  return (
    <div className="py-1.5 pl-24">
      <Switch label="Play with this tab’s keyboard" on={on} change={(next) => keyboard.set(next)} />
      <p className="pt-1 text-xs text-ink-2">
        While this page is in front and no field is being written in. Keys held with Ctrl, Alt or Meta stay
        the browser’s.
      </p>
    </div>
  );
}

function BrowserPortField({ port, save }: { port: string; save: Save }) {
  const midi = useBrowserMidi();
  return (
    <>
      <TypedField
        label="Port"
        value={port}
        commit={(text) => save({ port: text })}
        hint="The port’s name in the browser."
      />
      {midi.ports.length > 0 && (
        <Choice
          label="Plugged in"
          value={midi.ports.some(({ name }) => name === port) ? port : null}
          placeholder="Choose a port"
          options={midi.ports.map(({ name }) => ({ value: name, words: name }))}
          choose={(name) => save({ port: name })}
        />
      )}
    </>
  );
}
