/** What a motion sends. */
import { rangeOf, type Send } from '@tawny-signal/core/sends';
import { readNumber, readScale, writeScale } from '@tawny-signal/core/typed/range';
import { NewSend, SendEditor, SendTabs } from '../mappings/send-editor';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import type { MotionPartProps } from './moves-part';

export function SendsPart({ motion, show, save }: MotionPartProps) {
  const { sends } = motion;
  if (sends.length === 0)
    return (
      <>
        <p className="pb-1 text-sm text-straw">It sends nothing yet. Choose where to.</p>
        <NewSend show={show} save={(send) => save({ sends: [send] })} />
      </>
    );
  return (
    <>
      <SendTabs
        show={show}
        sends={sends}
        add={(send) => save({ sends: [...sends, send] })}
        remove={(at) => save({ sends: sends.toSpliced(at, 1) }).catch(() => undefined)}
      >
        {(send, at) => {
          const put = (next: Send): Promise<unknown> => save({ sends: sends.with(at, next) });
          return (
            <SendEditor
              key={at}
              show={show}
              send={send}
              put={put}
              fades={false}
              putAnother={(next) => put({ ...next, range: null })}
              range={
                motion.shape.scale === null && (
                  <TypedField
                    label="Range"
                    value={writeScale(send.range ?? rangeOf(send))}
                    hint="What 0 and 100 % become."
                    commit={(text) => put({ ...send, range: orThrow(readScale(text)) })}
                  />
                )
              }
            />
          );
        }}
      </SendTabs>
      <TypedField
        label="At most"
        value={motion.perSecond === null ? '' : `${motion.perSecond} a second`}
        placeholder="44 to DMX, 50 to all else"
        unit="a second"
        commit={(text) => {
          const plain = text.replace(/a second|\/\s*s/i, '').trim();
          return save({ perSecond: plain === '' ? null : orThrow(readNumber(plain, 'A rate')) });
        }}
      />
      {sends.some(({ kind }) => kind === 'note') && (
        <div className="py-1 pl-24">
          <Switch
            label="Legato: the next note before the last ends"
            on={motion.legato}
            change={(legato) => void save({ legato }).catch(() => undefined)}
          />
        </div>
      )}
    </>
  );
}
