/** The selected control of a layout: its name, its message, its lamp, and what uses it. */
import { Link, useNavigate } from 'react-router';
import { hearOfControl } from '@tawny-signal/core/layout/layout';
import type { Show } from '@tawny-signal/core/show';
import { CONTROL_SHAPES, type Layout, type LayoutControl } from '@tawny-signal/core/show/layout';
import { makeSend } from '@tawny-signal/core/sends';
import { usesOfControls, type ControlUse } from '@tawny-signal/core/uses/controls';
import { readNote, readWhole, writeNotes } from '@tawny-signal/core/typed/range';
import { useLive } from '../live/live';
import { useAddMapping } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { HoldButton } from '../ui/hold-button';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';

const SHAPE_WORDS: Record<LayoutControl['shape'], string> = {
  pad: 'Pad',
  button: 'Button',
  fader: 'Fader',
  knob: 'Knob',
};
const KINDS = [
  { value: 'note' as const, words: 'Note' },
  { value: 'control' as const, words: 'Control change' },
  { value: 'bend' as const, words: 'Pitch bend' },
];

interface ControlDetailProps {
  control: LayoutControl;
  layout: Layout;
  show: Show;
  change: (values: Partial<Layout>) => Promise<unknown>;
}

export function ControlDetail({ control, layout, show, change }: ControlDetailProps) {
  const put = (values: Partial<LayoutControl>): Promise<unknown> =>
    change({ controls: layout.controls.map((one) => (one.id === control.id ? { ...one, ...values } : one)) });
  const { middleC } = show.settings;
  return (
    <section aria-label={control.name} className="border-t border-rule pt-2">
      <h2 className="pb-1 text-sm font-semibold text-tawny-2">{control.name}</h2>
      <TypedField label="Control name" value={control.name} commit={(name) => put({ name })} />
      <Choice
        label="Shape"
        value={control.shape}
        options={CONTROL_SHAPES.map((shape) => ({ value: shape, words: SHAPE_WORDS[shape] }))}
        choose={(shape) => put({ shape })}
      />
      <Choice label="Message" value={control.kind} options={KINDS} choose={(kind) => put({ kind })} />
      <TypedField
        label="Channel"
        value={String(control.channel + 1)}
        commit={(text) => put({ channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 })}
      />
      {control.kind !== 'bend' && (
        <TypedField
          label={control.kind === 'note' ? 'Note' : 'Controller'}
          value={
            control.kind === 'note'
              ? writeNotes([control.number, control.number], middleC)
              : String(control.number)
          }
          commit={(text) =>
            put({
              number: orThrow(
                control.kind === 'note' ? readNote(text, middleC) : readWhole(text, 'A controller', 0, 127),
              ),
            })
          }
        />
      )}
      <LampFields control={control} layout={layout} put={put} />
      <UsedBy control={control} layout={layout} show={show} />
      <Button
        needs="edit"
        look="bare"
        className="text-brick!"
        onClick={() =>
          void change({ controls: layout.controls.filter(({ id }) => id !== control.id) }).catch(
            () => undefined,
          )
        }
      >
        Remove from the layout
      </Button>
    </section>
  );
}

interface LampFieldsProps {
  control: LayoutControl;
  layout: Layout;
  put: (values: Partial<LayoutControl>) => Promise<unknown>;
}

function LampFields({ control, layout, put }: LampFieldsProps) {
  const { connection } = useLive();
  const { lamp } = control;
  /** Lights the lamp while its button is held, and switches it off after that. */
  function light(on: boolean): void {
    if (layout.lineId === null || !lamp) return;
    const { channel, number } = control;
    const kind = control.kind === 'note' ? 'note' : 'control';
    const value = on ? lamp.on : lamp.off;
    connection.tryLine(
      layout.lineId,
      makeSend({ kind, lineId: layout.lineId, channel, number }),
      true,
      value,
    );
  }
  return (
    <>
      <div className="py-1 pl-24">
        <Switch
          label="Has a lamp"
          on={lamp !== null}
          change={(has) => void put({ lamp: has ? { on: 127, off: 0 } : null }).catch(() => undefined)}
        />
      </div>
      {lamp && (
        <>
          <TypedField
            label="Lit"
            value={String(lamp.on)}
            hint="The value that lights it; often the number of a colour."
            commit={(text) => put({ lamp: { ...lamp, on: orThrow(readWhole(text, 'It', 0, 127)) } })}
          />
          <TypedField
            label="Dark"
            value={String(lamp.off)}
            commit={(text) => put({ lamp: { ...lamp, off: orThrow(readWhole(text, 'It', 0, 127)) } })}
          />
          <div className="pl-24">
            <HoldButton needs="operator" press={light}>
              Light it
            </HoldButton>
          </div>
        </>
      )}
    </>
  );
}

const PATHS: Record<ControlUse['of'], string> = {
  mapping: '/mappings',
  'held with': '/mappings',
  feedback: '/mappings',
  moment: '/order',
  route: '/lines/routes',
};

function UsedBy({ control, layout, show }: { control: LayoutControl; layout: Layout; show: Show }) {
  const add = useAddMapping();
  const go = useNavigate();
  const uses = usesOfControls(show, layout).get(control.id) ?? [];
  return (
    <div className="py-2">
      {uses.length > 0 && (
        <ul aria-label="Used by" className="pb-1.5 text-sm">
          {uses.map((use) => (
            <li key={`${use.of} ${use.id}`}>
              <Link className="text-tawny-2 underline underline-offset-2" to={`${PATHS[use.of]}/${use.id}`}>
                {use.words}
              </Link>
            </li>
          ))}
        </ul>
      )}
      <Button
        needs="edit"
        onClick={() =>
          add.mutate(
            { hear: hearOfControl(control, layout.lineId), name: control.name },
            { onSuccess: (made) => void go(`/mappings/${made.id}`) },
          )
        }
      >
        Make a mapping for it
      </Button>
    </div>
  );
}
