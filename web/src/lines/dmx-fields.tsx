/** A universe of DMX over the network. */
import { ARTNET_PORT, ARTNET_UNIVERSES } from '@tawny-signal/core/dmx/artnet';
import { SACN_PORT, SACN_PRIORITY, SACN_UNIVERSES } from '@tawny-signal/core/dmx/sacn';
import type { LineOf } from '@tawny-signal/core/show/line';
import { readPort, readWhole } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { HearingFields, type Save } from './network-fields';

type DmxLine = LineOf<'artnet' | 'sacn'>;
type To = 'one' | 'everyone' | 'nobody';

const toOf = (line: DmxLine): To => (line.everyone ? 'everyone' : line.host === null ? 'nobody' : 'one');

export function DmxFields({ line, save }: { line: DmxLine; save: Save }) {
  const isSacn = line.kind === 'sacn';
  const [low, high] = isSacn ? [SACN_UNIVERSES.low, SACN_UNIVERSES.high] : [0, ARTNET_UNIVERSES - 1];
  const what = isSacn ? 'An sACN universe' : 'An Art-Net universe';
  function send(to: To): Promise<unknown> {
    if (to === 'nobody') return save({ host: null, everyone: false });
    if (to === 'one') return save({ host: '127.0.0.1', everyone: false });
    return save(isSacn ? { host: null, everyone: true } : { host: '2.255.255.255', everyone: true });
  }
  return (
    <>
      <TypedField
        label="Universe"
        value={String(line.universe)}
        commit={(text) => save({ universe: orThrow(readWhole(text, what, low, high)) })}
      />
      <Choice
        label="Sends to"
        value={toOf(line)}
        options={[
          { value: 'one' as const, words: 'One machine' },
          { value: 'everyone' as const, words: isSacn ? 'Everyone (multicast)' : 'Everyone (broadcast)' },
          { value: 'nobody' as const, words: 'Nobody: receive only' },
        ]}
        choose={send}
        hint={line.everyone ? 'Every machine on the network receives it.' : undefined}
      />
      {line.host !== null && (
        <TypedField
          label="Address"
          value={line.host}
          commit={(host) => save({ host })}
          hint={line.everyone ? 'The network’s broadcast address.' : undefined}
        />
      )}
      {toOf(line) !== 'nobody' && (
        <TypedField
          label="Port"
          value={String(line.port)}
          hint={line.port === (isSacn ? SACN_PORT : ARTNET_PORT) ? undefined : 'Not the standard’s port.'}
          commit={(text) => save({ port: orThrow(readPort(text)) })}
        />
      )}
      {line.kind === 'sacn' && toOf(line) !== 'nobody' && (
        <>
          <TypedField
            label="Priority"
            value={String(line.priority)}
            hint="0 to 200; of several sources, the highest wins."
            commit={(text) =>
              save({
                priority: orThrow(readWhole(text, 'A priority', SACN_PRIORITY.low, SACN_PRIORITY.high)),
              })
            }
          />
          <TypedField
            label="Source"
            value={line.sourceName}
            hint="The name that others see."
            commit={(sourceName) => save({ sourceName })}
          />
        </>
      )}
      <HearingFields line={line} save={save} usualPort={isSacn ? SACN_PORT : ARTNET_PORT} />
    </>
  );
}
