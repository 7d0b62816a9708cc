/** The address and arguments of an OSC message that is sent. */
import { X } from 'lucide-react';
import { OSC_TYPE_WORDS, PLACE_WORDS, type OscArg, type OscPlace } from '@tawny-signal/core/sends/osc';
import type { SendOf } from '@tawny-signal/core/sends';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { TypedField } from '../ui/typed-field';

const TYPES = (Object.keys(OSC_TYPE_WORDS) as OscArg['type'][]).map((type): Option<OscArg['type']> => ({
  value: type,
  words: OSC_TYPE_WORDS[type],
}));

interface OscFieldsProps {
  send: SendOf<'osc'>;
  save: (send: SendOf<'osc'>) => Promise<unknown>;
}

export function OscFields({ send, save }: OscFieldsProps) {
  const setArg = (at: number, arg: OscArg | null): Promise<unknown> =>
    save({ ...send, args: arg ? send.args.with(at, arg) : send.args.toSpliced(at, 1) });
  return (
    <>
      <TypedField
        label="Address"
        value={send.address}
        hint={send.address.includes('{') ? 'Filled from what is heard: {number}, {channel}, {1}.' : undefined}
        commit={(address) => save({ ...send, address })}
      />
      {send.args.map((arg, at) => (
        <ArgumentFields key={at} at={at} arg={arg} set={(next) => setArg(at, next)} />
      ))}
      <Button
        needs="edit"
        look="bare"
        className="ml-24"
        onClick={() =>
          void save({ ...send, args: [...send.args, { type: 'f', value: 'shaped' }] }).catch(() => undefined)
        }
      >
        Add argument
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
      return { type, value: before.type !== 's' && 'value' in before ? before.value : 'shaped' };
  }
}

/** What can be typed in an argument instead of a fixed number. */
const PLACES = Object.entries(PLACE_WORDS) as [OscPlace, string][];
const PLACE_HINT = `Or: ${PLACES.map(([, words]) => words).join(', ')}.`;

/** Reads an argument: the shaped or heard value, a part of a colour, or a fixed number or text. */
function readArgument(arg: OscArg, text: string): OscArg {
  if (arg.type === 's') return { ...arg, value: text };
  if (!('value' in arg)) return arg;
  const word = text.trim().toLowerCase();
  const place = PLACES.find(([key, words]) => word === key || word === words);
  if (place || word === '' || word === 'value') return { ...arg, value: place?.[0] ?? 'shaped' };
  const number = Number(word.replace(',', '.'));
  if (!Number.isFinite(number)) throw new Error(`Write a fixed number like 0.5. ${PLACE_HINT}`);
  return { ...arg, value: number };
}

function shownArgument(arg: Extract<OscArg, { value: unknown }>): string {
  if (arg.type === 's' || typeof arg.value === 'number') return String(arg.value);
  return PLACE_WORDS[arg.value];
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
            label="Content"
            value={shownArgument(arg)}
            hint={
              arg.type === 's'
                ? arg.value.includes('{')
                  ? 'Places in braces are filled: {number}, {1}.'
                  : undefined
                : typeof arg.value === 'number'
                  ? `Always this number. ${PLACE_HINT}`
                  : undefined
            }
            commit={(text) => set(readArgument(arg, text))}
          />
        )}
      </div>
      <IconButton
        needs="edit"
        label={`Remove argument ${at + 1}`}
        onClick={() => void set(null).catch(() => undefined)}
      >
        <X size={14} aria-hidden />
      </IconButton>
    </div>
  );
}
