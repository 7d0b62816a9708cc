/** The form for the conditions of a mapping. */
import { Plus, X } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { HEARS } from '@tawny-signal/core/hears';
import { ALWAYS, type When } from '@tawny-signal/core/show/when';
import { readNote, readWhole, writeNotes } from '@tawny-signal/core/typed/range';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Pop } from '../ui/pop';
import { TimeField } from '../ui/time-field';
import { TypedField } from '../ui/typed-field';
import type { PartProps } from './part-props';

type Condition = keyof When | 'rises' | 'falls';

interface Offer {
  condition: Condition;
  words: string;
  start: Partial<When>;
}

const OFFERS: Offer[] = [
  { condition: 'shift', words: 'While a pad is held', start: { shift: { channel: 9, number: 36 } } },
  { condition: 'bankId', words: 'While a bank is on', start: {} },
  { condition: 'heldForMs', words: 'When held for a while', start: { heldForMs: 800 } },
  { condition: 'twiceInMs', words: 'When pressed twice quickly', start: { twiceInMs: 400 } },
  { condition: 'onceInMs', words: 'At most once per interval', start: { onceInMs: 100 } },
  { condition: 'changed', words: 'Only when it changes', start: { changed: true } },
  {
    condition: 'rises',
    words: 'When it rises to …',
    start: { crossing: { way: 'rises', at: 64, back: 0 } },
  },
  {
    condition: 'falls',
    words: 'When it falls below …',
    start: { crossing: { way: 'falls', at: 64, back: 0 } },
  },
];

export function WhenFields({ mapping, show, save }: PartProps) {
  const { when, hear } = mapping;
  const [open, setOpen] = useState(false);
  const change = (values: Partial<When>): Promise<unknown> => save({ when: { ...when, ...values } });
  const { holds, protocol } = HEARS[hear.message];
  const is = (condition: Condition): boolean => {
    if (condition === 'rises' || condition === 'falls') return when.crossing !== null;
    return when[condition] !== ALWAYS[condition];
  };
  const fits = (condition: Condition): boolean => {
    if (condition === 'heldForMs') return holds;
    if (condition === 'bankId') return show.banks.length > 0;
    return condition !== 'shift' || protocol === 'midi';
  };
  const offers = OFFERS.filter(({ condition }) => !is(condition) && fits(condition));
  const ms = (label: string, key: 'onceInMs' | 'twiceInMs' | 'heldForMs'): ReactNode =>
    when[key] > 0 && (
      <Removable label={label} remove={() => change({ [key]: 0 })}>
        <TimeField
          label={label}
          ms={when[key]}
          unit="ms"
          highMs={60_000}
          commit={(ms) => change({ [key]: ms })}
        />
      </Removable>
    );
  return (
    <>
      {when.shift && <ShiftFields shift={when.shift} show={show} change={change} />}
      {when.bankId !== null && (
        <Removable label="while a bank is on" remove={() => change({ bankId: null })}>
          <Choice
            label="While on"
            value={when.bankId}
            options={show.banks.map(({ id, name }) => ({ value: id, words: name }))}
            choose={(bankId) => change({ bankId })}
          />
        </Removable>
      )}
      {ms('Held for', 'heldForMs')}
      {ms('Twice in', 'twiceInMs')}
      {ms('Once in', 'onceInMs')}
      {when.changed && (
        <Removable label="Only when it changes" remove={() => change({ changed: false })}>
          <p className="py-1.5 pl-24 text-sm">Only when it changes</p>
        </Removable>
      )}
      {when.crossing && <CrossingFields crossing={when.crossing} change={change} />}
      {offers.length > 0 && (
        <div className="pl-22">
          <Pop
            width="w-64"
            align="start"
            open={open}
            setOpen={setOpen}
            trigger={
              <Button needs="edit" look="bare">
                <Plus size={14} aria-hidden /> Only …
              </Button>
            }
          >
            {offers.map(({ condition, words, start }) => (
              <Button
                key={condition}
                look="bare"
                className="w-full justify-start!"
                onClick={() => {
                  setOpen(false);
                  void change(condition === 'bankId' ? { bankId: show.banks[0]!.id } : start).catch(
                    () => undefined,
                  );
                }}
              >
                {words}
              </Button>
            ))}
          </Pop>
        </div>
      )}
    </>
  );
}

interface RemovableProps {
  label: string;
  remove: () => Promise<unknown>;
  children: ReactNode;
}

function Removable({ label, remove, children }: RemovableProps) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_32px] items-start">
      {children}
      <IconButton
        needs="edit"
        label={`Always, not: ${label}`}
        onClick={() => void remove().catch(() => undefined)}
      >
        <X size={14} aria-hidden />
      </IconButton>
    </div>
  );
}

interface ShiftProps {
  shift: NonNullable<When['shift']>;
  show: PartProps['show'];
  change: (values: Partial<When>) => Promise<unknown>;
}

function ShiftFields({ shift, show, change }: ShiftProps) {
  const { middleC } = show.settings;
  return (
    <>
      <Removable label="while a pad is held" remove={() => change({ shift: null })}>
        <TypedField
          label="While held"
          value={writeNotes([shift.number, shift.number], middleC)}
          hint="This note, on the same line."
          commit={(text) => change({ shift: { ...shift, number: orThrow(readNote(text, middleC)) } })}
        />
      </Removable>
      <TypedField
        label="… on channel"
        value={String(shift.channel + 1)}
        commit={(text) =>
          change({ shift: { ...shift, channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 } })
        }
      />
    </>
  );
}

interface CrossingProps {
  crossing: NonNullable<When['crossing']>;
  change: (values: Partial<When>) => Promise<unknown>;
}

function readNumber(text: string): number {
  const value = Number(text.trim().replace('−', '-'));
  if (text.trim() === '' || !Number.isFinite(value)) throw new Error('Write a number.');
  return value;
}

function CrossingFields({ crossing, change }: CrossingProps) {
  const put = (values: Partial<NonNullable<When['crossing']>>): Promise<unknown> =>
    change({ crossing: { ...crossing, ...values } });
  return (
    <>
      <Removable label="when it crosses a value" remove={() => change({ crossing: null })}>
        <TypedField
          label={crossing.way === 'rises' ? 'Rises to' : 'Falls below'}
          value={String(crossing.at)}
          commit={(text) => put({ at: readNumber(text) })}
        />
      </Removable>
      <TypedField
        label="… after"
        value={String(crossing.back)}
        hint={`It must have been ${crossing.way === 'rises' ? 'below' : 'above'} that by so much before it counts again.`}
        commit={(text) => put({ back: readNumber(text) })}
      />
    </>
  );
}
