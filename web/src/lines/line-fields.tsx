/** What there is to set of a line, one form for each kind. */
import type { Line } from '@tawny-signal/core/show';
import { readPort } from '@tawny-signal/core/typed/range';
import { useBrowserMidi } from '../live/live';
import { useChangeLine } from '../show/show';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { KINDS } from './kinds';

type Save = (change: object) => Promise<unknown>;

export function LineFields({ line }: { line: Line }) {
  const change = useChangeLine();
  const save: Save = (values) => change.mutateAsync({ id: line.id, change: values });
  return (
    <div>
      <TypedField label="Name" value={line.name} commit={(name) => save({ name })} />
      <p className="grid grid-cols-[84px_1fr] gap-x-3 py-1.5 text-sm text-ink-2">
        <span>Kind</span>
        <span className="text-ink">{KINDS[line.kind].words}</span>
      </p>
      <KindFields line={line} save={save} />
    </div>
  );
}

function KindFields({ line, save }: { line: Line; save: Save }) {
  switch (line.kind) {
    case 'osc-udp':
      return <TargetFields line={line} save={save} />;
    case 'osc-tcp':
      return (
        <>
          <TargetFields line={line} save={save} />
          <Choice
            label="Framing"
            value={line.framing}
            options={FRAMINGS}
            choose={(framing) => save({ framing })}
            hint="Both ends must use the same. Try the other one if nothing is understood."
          />
        </>
      );
    case 'midi-browser':
      return <BrowserPortField port={line.port} save={save} />;
    case 'midi-inside':
      return (
        <Choice
          label="Port"
          value={line.port}
          options={['Pier pads', 'Score player'].map((port) => ({ value: port, words: port }))}
          choose={(port) => save({ port })}
        />
      );
  }
}

const FRAMINGS: Option<LineOf<'osc-tcp'>['framing']>[] = [
  { value: 'slip', words: 'SLIP (OSC 1.1)' },
  { value: 'length', words: 'Length before each packet (OSC 1.0)' },
];

type LineOf<K extends Line['kind']> = Extract<Line, { kind: K }>;

/** Where a line sends to, and what it hears on. */
function TargetFields({ line, save }: { line: LineOf<'osc-udp' | 'osc-tcp'>; save: Save }) {
  return (
    <>
      <TypedField
        label="Send to"
        value={line.host}
        commit={(host) => save({ host })}
        hint="Address or host name of the program."
      />
      <TypedField
        label="Port"
        value={String(line.port)}
        commit={(text) => save({ port: orThrow(readPort(text)) })}
      />
      <TypedField
        label="Listen on"
        value={line.listenPort === null ? '' : String(line.listenPort)}
        placeholder="nothing"
        hint="Port of this machine, heard on loopback only. Empty: nobody sends to it."
        commit={(text) => save({ listenPort: text.trim() === '' ? null : orThrow(readPort(text)) })}
      />
    </>
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
        hint="The port’s name, as the browser says it."
      />
      {midi.ports.length > 0 && (
        <Choice
          label="Plugged in"
          value={midi.ports.some(({ name }) => name === port) ? port : null}
          placeholder="Take one that is here"
          options={midi.ports.map(({ name }) => ({ value: name, words: name }))}
          choose={(name) => save({ port: name })}
        />
      )}
    </>
  );
}
