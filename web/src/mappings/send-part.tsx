import { Play, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { OSC_TYPE_WORDS } from '@tawny-signal/core/mapping/words';
import type { Mapping, OscArg, Send } from '@tawny-signal/core/show';
import { isMidiLine } from '../lines/kinds';
import { useLive } from '../live/live';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { TypedField } from '../ui/typed-field';
import type { PartProps } from './part-props';

const TYPES = (Object.keys(OSC_TYPE_WORDS) as OscArg['type'][]).map((type): Option<OscArg['type']> => ({
  value: type,
  words: OSC_TYPE_WORDS[type],
}));

export function SendPart({ mapping, show, save }: PartProps) {
  const { send } = mapping;
  const change = (values: Partial<Send>): Promise<unknown> => save({ send: { ...send, ...values } });
  const setArg = (at: number, arg: OscArg | null): Promise<unknown> =>
    change({ args: arg ? send.args.with(at, arg) : send.args.toSpliced(at, 1) });
  return (
    <>
      <Choice
        label="Line"
        value={send.lineId}
        placeholder="Choose a line"
        options={show.lines
          .filter((line) => !isMidiLine(line))
          .map(({ id, name }) => ({ value: id, words: name }))}
        choose={(lineId) => change({ lineId })}
        hint={
          show.lines.some((line) => !isMidiLine(line))
            ? undefined
            : 'There is no OSC line yet: add one under Lines.'
        }
      />
      <TypedField label="Address" value={send.address} commit={(address) => change({ address })} />
      {send.args.map((arg, at) => (
        <ArgumentFields key={at} at={at} arg={arg} set={(next) => setArg(at, next)} />
      ))}
      <Button
        look="bare"
        className="ml-24"
        onClick={() =>
          void change({ args: [...send.args, { type: 'f', value: 'shaped' }] }).catch(() => undefined)
        }
      >
        + argument
      </Button>
    </>
  );
}

function withType(type: OscArg['type'], before: OscArg): OscArg {
  switch (type) {
    case 's':
      return { type, value: before.type === 's' ? before.value : 'go' };
    case 'T':
    case 'F':
    case 'N':
    case 'I':
      return { type };
    default:
      return { type, value: 'value' in before && typeof before.value === 'number' ? before.value : 'shaped' };
  }
}

const SHAPED = 'shaped value';

/** What was shaped, or a fixed number or text. */
function readArgument(arg: OscArg, text: string): OscArg {
  if (arg.type === 's') return { ...arg, value: text };
  if (!('value' in arg)) return arg;
  if (['value', 'shaped', SHAPED, ''].includes(text.trim().toLowerCase())) return { ...arg, value: 'shaped' };
  const number = Number(text.trim().replace(',', '.'));
  if (!Number.isFinite(number)) throw new Error('Write a fixed number like 0.5, or: shaped value.');
  return { ...arg, value: number };
}

function ArgumentFields({
  at,
  arg,
  set,
}: {
  at: number;
  arg: OscArg;
  set: (arg: OscArg | null) => Promise<unknown>;
}) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_28px] items-start">
      <div>
        <Choice
          label={`Argument ${at + 1}`}
          value={arg.type}
          options={TYPES}
          choose={(type) => set(withType(type, arg))}
        />
        {'value' in arg && (
          <TypedField
            label="Holds"
            value={arg.value === 'shaped' && arg.type !== 's' ? SHAPED : String(arg.value)}
            hint={
              arg.type !== 's' && arg.value !== 'shaped'
                ? 'Always this number. Or write: shaped value.'
                : undefined
            }
            commit={(text) => set(readArgument(arg, text))}
          />
        )}
      </div>
      <IconButton label={`Remove argument ${at + 1}`} onClick={() => void set(null).catch(() => undefined)}>
        <X size={14} aria-hidden />
      </IconButton>
    </div>
  );
}

/** Sends the mapping's highest value; what is held is let go with the button. */
export function TryButton({ mapping }: { mapping: Mapping }) {
  const { connection } = useLive();
  const pressed = useRef(false);
  const press = (down: boolean): void => {
    if (pressed.current === down) return;
    pressed.current = down;
    connection.tryMapping(mapping.id, down);
  };
  useEffect(
    () => () => {
      if (pressed.current) connection.tryMapping(mapping.id, false);
    },
    [connection, mapping.id],
  );
  return (
    <Button
      look="bare"
      className="text-tawny-2!"
      title="Sends what the strongest press would send"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        press(true);
      }}
      onPointerUp={() => press(false)}
      onPointerCancel={() => press(false)}
      onBlur={() => press(false)}
      onKeyDown={(event) => (event.key === ' ' || event.key === 'Enter') && press(true)}
      onKeyUp={(event) => (event.key === ' ' || event.key === 'Enter') && press(false)}
    >
      <Play size={14} aria-hidden /> Try it
    </Button>
  );
}
