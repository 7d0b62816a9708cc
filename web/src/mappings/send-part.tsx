/** The sends of a mapping. One of them is open at a time. */
import { Play } from 'lucide-react';
import { rangeOf, type Send } from '@tawny-signal/core/sends';
import { hearFor } from '@tawny-signal/core/mapping/lets-go';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { readScale, writeScale } from '@tawny-signal/core/typed/range';
import { useLive } from '../live/live';
import { HoldButton } from '../ui/hold-button';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import type { PartProps } from './part-props';
import { NewSend, SendEditor, SendTabs } from './send-editor';

export function SendPart(props: PartProps) {
  const { mapping, show, save } = props;
  const { sends } = mapping;
  if (sends.length === 0) return <FirstSend {...props} />;

  /** Adds a send. One of the same kind as the first gets the shaped value as it is, another one its own range. */
  function add(next: Send): Promise<unknown> {
    const range = next.kind === sends[0]!.kind ? null : rangeOf(next);
    return save({ ...heldFor(mapping, next), sends: [...sends, { ...next, range }] });
  }

  return (
    <SendTabs
      show={show}
      sends={sends}
      add={add}
      remove={(at) => save(without(mapping, at)).catch(() => undefined)}
    >
      {(send, at) => <OneSend key={at} {...props} at={at} send={send} />}
    </SendTabs>
  );
}

/** Removes a send from a mapping. If it was the first, the shape gets the range of the new first one. */
function without(mapping: Mapping, at: number): Partial<Mapping> {
  const sends = mapping.sends.toSpliced(at, 1);
  if (at > 0 || !sends[0]?.range) return { sends };
  const out = sends[0].range;
  return { sends: sends.with(0, { ...sends[0], range: null }), shape: { ...mapping.shape, out } };
}

/** The hear of a mapping, changed so that a send which waits for a release hears it. */
const heldFor = ({ hear }: Mapping, send: Send): Pick<Mapping, 'hear'> => ({ hear: hearFor(hear, [send]) });

/** A mapping that sends nothing yet: the first choice is where to. */
function FirstSend({ mapping, show, save }: PartProps) {
  return (
    <>
      <p className="pb-1 text-sm text-straw">It sends nothing yet. Choose where to.</p>
      <NewSend
        show={show}
        save={(send) =>
          save({
            ...heldFor(mapping, send),
            sends: [send],
            shape: { ...mapping.shape, out: rangeOf(send) },
          })
        }
      />
    </>
  );
}

function OneSend({ mapping, show, save, at, send }: PartProps & { at: number; send: Send }) {
  const put = (next: Send): Promise<unknown> =>
    save({ ...(next.kind === 'motion' && heldFor(mapping, next)), sends: mapping.sends.with(at, next) });

  /** Changes the kind of a send, and its range. The range of the first send belongs to the shape. */
  function putAnother(next: Send): Promise<unknown> {
    const out = rangeOf(next);
    const change: Partial<Mapping> =
      at === 0
        ? { sends: mapping.sends.with(0, { ...next, range: null }), shape: { ...mapping.shape, out } }
        : { sends: mapping.sends.with(at, { ...next, range: out }) };
    return save({ ...heldFor(mapping, next), ...change });
  }

  return (
    <SendEditor
      show={show}
      send={send}
      put={put}
      putAnother={putAnother}
      range={
        at > 0 && (
          <TypedField
            label="Range"
            value={send.range ? writeScale(send.range) : 'as shaped'}
            hint="The output range of this send."
            commit={(text) =>
              put({ ...send, range: /^\s*(as shaped|)\s*$/i.test(text) ? null : orThrow(readScale(text)) })
            }
          />
        )
      }
    />
  );
}

/** Sends the highest value of the mapping. Releasing the button releases what is held. */
export function TryButton({ mapping }: { mapping: Mapping }) {
  const { connection } = useLive();
  return (
    <HoldButton
      needs="operator"
      look="bare"
      className="text-tawny-2!"
      title="Sends the highest value"
      press={(down) => connection.tryMapping(mapping.id, down)}
    >
      <Play size={14} aria-hidden /> Try it
    </HoldButton>
  );
}
