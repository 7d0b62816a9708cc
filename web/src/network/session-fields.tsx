/** The fields of a session of network MIDI: its name, its ports, who may connect, and whom it calls. */
import { MAY_JOIN, type LineOf } from '@tawny-signal/core/show/line';
import { readWhom, SESSION_PORT } from '@tawny-signal/core/show/whom';
import { readPort } from '@tawny-signal/core/typed/range';
import { useLiveValue } from '../live/live';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';

type SessionLine = LineOf<'midi-network'>;

const MAY_JOIN_WORDS: Record<SessionLine['mayJoin'], string> = {
  nobody: 'nobody but those it calls',
  listed: 'those in a list',
  anyone: 'anyone who finds it',
};

interface FieldsProps {
  line: SessionLine;
  save: (change: Partial<SessionLine>) => Promise<unknown>;
}

const wordsOf = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);
const isHere = (host: string): boolean => host === '127.0.0.1';

/** Reads a time in ms; nothing for null. @throws Error in words if it is none */
function readEvenly(text: string): number | null {
  const digits = text.trim().replace(/\s*ms$/i, '');
  if (digits === '') return null;
  if (!/^\d+$/.test(digits)) throw new Error('Write a time of 1 to 1000 ms, or nothing to play at once.');
  return Number(digits);
}

export function SessionFields({ line, save }: FieldsProps) {
  const port = useLiveValue('lines', (store) => store.lineState(line.id), 250)?.network?.port ?? null;
  return (
    <>
      <TypedField
        label="Session"
        value={line.session}
        hint="The name by which other machines see it."
        commit={(session) => save({ session })}
      />
      <TypedField
        label="Ports"
        value={line.port === null ? '' : String(line.port)}
        placeholder="the next pair that is free"
        hint={
          port === null
            ? `The first one of a pair, usually ${SESSION_PORT}. Empty: the next pair that is free.`
            : `Open at ${port} and ${port + 1}.`
        }
        commit={(text) => save({ port: text.trim() === '' ? null : orThrow(readPort(text)) })}
      />
      <TypedField
        label="At address"
        value={line.listenHost}
        hint={
          isHere(line.listenHost)
            ? 'Open to programs on this machine only. 0.0.0.0 opens it to all networks.'
            : 'Open to other machines.'
        }
        commit={(listenHost) => save({ listenHost: listenHost.trim() || '127.0.0.1' })}
      />
      <Choice
        label="May connect"
        value={line.mayJoin}
        options={MAY_JOIN.map((value) => ({ value, words: MAY_JOIN_WORDS[value] }))}
        choose={(mayJoin) => save({ mayJoin })}
      />
      {line.mayJoin === 'listed' && (
        <TypedField
          label="In the list"
          value={line.hearFrom.join(' ')}
          placeholder="nobody yet"
          hint="Addresses or networks, like 192.168.1.0/24, with spaces between."
          commit={(text) => save({ hearFrom: wordsOf(text) })}
        />
      )}
      <TypedField
        label="Calls"
        value={line.calls.join(' ')}
        placeholder="nobody: others call it"
        hint='Whom it connects to, again after every start: 192.168.1.20, 192.168.1.20:5006, or "a name" that is found.'
        commit={(text) => save({ calls: readWhom(text) })}
      />
      <div className="py-0.5">
        <Switch label="Found by name" on={line.byName} change={(byName) => save({ byName })} />
        <p className="text-xs text-ink-2">
          {line.byName
            ? `Announced at ${line.listenHost} as “${line.session}”. Sessions that are found there are listed under Found on the network.`
            : 'Announces this session on the network of its address, and lists others there. It opens UDP port 5353.'}
        </p>
      </div>
      <TypedField
        label="Plays after"
        value={line.evenMs === null ? '' : `${line.evenMs} ms`}
        placeholder="at once"
        hint="So long after it was played there, which takes out the jitter of the network. Empty: when it comes."
        commit={(text) => save({ evenMs: readEvenly(text) })}
      />
    </>
  );
}
