/** The form for the target, the listening port and the accepted senders of a network line. */
import type { LineOf } from '@tawny-signal/core/show/line';
import { readPort } from '@tawny-signal/core/typed/range';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';

export type Save = (change: object) => Promise<unknown>;

export function TargetFields({ line, save }: { line: LineOf<'osc-udp' | 'osc-tcp'>; save: Save }) {
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
    </>
  );
}

interface HearingProps {
  line: LineOf<'osc-udp' | 'osc-tcp' | 'osc-ws' | 'artnet' | 'sacn'>;
  save: Save;
  /** The usual port of the protocol. */
  usualPort?: number;
}

export function HearingFields({ line, save, usualPort }: HearingProps) {
  return (
    <>
      <TypedField
        label="Listen on"
        value={line.listenPort === null ? '' : String(line.listenPort)}
        placeholder="nothing"
        hint={`Port of this machine${usualPort ? `, usually ${usualPort}` : ''}. Empty: nobody sends to it.`}
        commit={(text) => save({ listenPort: text.trim() === '' ? null : orThrow(readPort(text)) })}
      />
      {line.listenPort !== null && (
        <>
          <TypedField
            label="At address"
            value={line.listenHost}
            hint={
              line.listenHost === '127.0.0.1'
                ? 'Open to programs on this machine only. 0.0.0.0 opens it to all networks.'
                : 'Open to other machines.'
            }
            commit={(listenHost) => save({ listenHost: listenHost.trim() || '127.0.0.1' })}
          />
          <TypedField
            label="Accept from"
            value={line.hearFrom.join(' ')}
            placeholder="anybody"
            hint="Addresses or networks that may send, like 192.168.1.0/24, with spaces between."
            commit={(text) => save({ hearFrom: text.split(/[\s,;]+/).filter(Boolean) })}
          />
        </>
      )}
    </>
  );
}
