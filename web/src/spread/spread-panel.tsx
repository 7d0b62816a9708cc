/** Spread: these controls to those targets, looked at before it is made. */
import { X } from 'lucide-react';
import { useState } from 'react';
import type { KeyCode } from '@tawny-signal/core/keys/codes';
import {
  MOST_ROWS,
  spread,
  type Spread,
  type SpreadFrom,
  type SpreadRow,
  type SpreadTo,
} from '@tawny-signal/core/spread/spread';
import type { Protocol } from '@tawny-signal/core/show/line';
import type { Show } from '@tawny-signal/core/show';
import {
  readNotes,
  readNumbers,
  readSlots,
  readWhole,
  writeNotes,
  writeSpan,
} from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { useAddMappings, useShow } from '../show/show';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import type { Option } from '../ui/select';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { KeyRow } from './key-row';

const FROM_SORTS: Partial<Record<Protocol, Option<SpreadFrom['sort']>[]>> = {
  midi: [
    { value: 'notes', words: 'Notes' },
    { value: 'controls', words: 'Controllers' },
  ],
  dmx: [{ value: 'slots', words: 'Slots' }],
};
const TO_SORTS: Record<Protocol, Option<SpreadTo['sort']>[]> = {
  midi: [
    { value: 'notes', words: 'Notes' },
    { value: 'controls', words: 'Controllers' },
  ],
  dmx: [{ value: 'slots', words: 'Slots' }],
  osc: [{ value: 'osc', words: 'OSC addresses' }],
  keys: [{ value: 'keys', words: 'Keys' }],
};

function startFrom(sort: SpreadFrom['sort'], lineId: string): SpreadFrom {
  if (sort === 'slots') return { sort, lineId, numbers: [1, 12] };
  return sort === 'notes'
    ? { sort, lineId, channel: 9, numbers: [36, 51] }
    : { sort, lineId, channel: 0, numbers: [1, 8] };
}

function startTo(sort: SpreadTo['sort'], lineId: string): SpreadTo {
  switch (sort) {
    case 'keys':
      return { sort, lineId, codes: [] };
    case 'osc':
      return { sort, lineId, address: '/clip/{n}', first: 1 };
    case 'slots':
      return { sort, lineId, first: 1 };
    case 'notes':
    case 'controls':
      return { sort, lineId, channel: 0, first: sort === 'notes' ? 36 : 1 };
  }
}

/** The first line that fits, and what is spread from it. */
function startOf(show: Show): { from: SpreadFrom | null; to: SpreadTo | null } {
  const source = show.lines.find((line) => FROM_SORTS[protocolOf(line)!] !== undefined);
  const target =
    show.lines.find((line) => protocolOf(line) === 'osc') ?? show.lines.find((line) => line !== source);
  return {
    from: source ? startFrom(FROM_SORTS[protocolOf(source)!]![0]!.value, source.id) : null,
    to: target ? startTo(TO_SORTS[protocolOf(target)!][0]!.value, target.id) : null,
  };
}

export function SpreadPanel({ close }: { close: () => void }) {
  const show = useShow();
  const [start] = useState(() => startOf(show));
  const [from, setFrom] = useState(start.from);
  const [to, setTo] = useState(start.to);
  const [held, setHeld] = useState(true);
  return (
    <section aria-label="Spread a range" className="mb-2 border-l-3 border-tawny bg-bark px-4 py-2.5 text-sm">
      <div className="flex items-center justify-between">
        <h2 className="font-semibold">Spread a range</h2>
        <IconButton label="Spread nothing" onClick={close}>
          <X size={16} aria-hidden />
        </IconButton>
      </div>
      {from && to ? (
        <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_minmax(0,1.1fr)] gap-6">
          <div>
            <FromFields show={show} from={from} change={setFrom} />
            {from.sort === 'notes' && (
              <div className="py-1 pl-24">
                <Switch label="Held as long as the note" on={held} change={setHeld} />
              </div>
            )}
          </div>
          <ToFields show={show} to={to} change={setTo} />
          <Preview show={show} wish={{ from, to, held }} done={close} />
        </div>
      ) : (
        <p className="py-2">Two lines are needed, one to hear and one to send on. Add them under Lines.</p>
      )}
    </section>
  );
}

interface FromProps {
  show: Show;
  from: SpreadFrom;
  change: (from: SpreadFrom) => void;
}

function FromFields({ show, from, change }: FromProps) {
  const { middleC } = show.settings;
  const lines = show.lines.filter((line) => FROM_SORTS[protocolOf(line)!] !== undefined);
  const sorts = FROM_SORTS[protocolOf(lines.find(({ id }) => id === from.lineId))!] ?? [];
  function chooseLine(lineId: string): void {
    const offered = FROM_SORTS[protocolOf(lines.find(({ id }) => id === lineId))!]!;
    const same = offered.some(({ value }) => value === from.sort);
    change(same ? { ...from, lineId } : startFrom(offered[0]!.value, lineId));
  }
  function readRange(text: string): [number, number] {
    const plain = text.replace(/\s*\([^)]*\)/g, '');
    const read =
      from.sort === 'notes'
        ? readNotes(plain, middleC)
        : from.sort === 'slots'
          ? readSlots(plain)
          : readNumbers(plain, 'A controller');
    const range = orThrow(read);
    if (range === 'any') return from.sort === 'slots' ? [1, 512] : [0, 127];
    if (range[1] - range[0] + 1 > MOST_ROWS) throw new Error(`At most ${MOST_ROWS} at once.`);
    return range;
  }
  return (
    <>
      <Choice
        label="From line"
        value={from.lineId}
        options={lines.map(({ id, name }) => ({ value: id, words: name }))}
        choose={chooseLine}
      />
      {sorts.length > 1 && (
        <Choice
          label="These"
          value={from.sort}
          options={sorts}
          choose={(sort) => change(startFrom(sort, from.lineId))}
        />
      )}
      {from.sort !== 'slots' && (
        <TypedField
          label="On channel"
          value={String(from.channel + 1)}
          commit={(text) => change({ ...from, channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 })}
        />
      )}
      <TypedField
        label={from.sort === 'notes' ? 'Notes' : from.sort === 'slots' ? 'Slots' : 'Controllers'}
        value={from.sort === 'notes' ? writeNotes(from.numbers, middleC) : writeSpan(from.numbers)}
        hint={from.sort === 'notes' ? 'Like F2-F3, or 36-51.' : 'Like 1-8.'}
        commit={(text) => change({ ...from, numbers: readRange(text) })}
      />
    </>
  );
}

interface ToProps {
  show: Show;
  to: SpreadTo;
  change: (to: SpreadTo) => void;
}

function ToFields({ show, to, change }: ToProps) {
  const lines = show.lines.filter((line) => line.kind !== 'keys-browser');
  const sorts = TO_SORTS[protocolOf(lines.find(({ id }) => id === to.lineId))!] ?? [];
  function chooseLine(lineId: string): void {
    const offered = TO_SORTS[protocolOf(lines.find(({ id }) => id === lineId))!];
    const same = offered.some(({ value }) => value === to.sort);
    change(same ? { ...to, lineId } : startTo(offered[0]!.value, lineId));
  }
  return (
    <div>
      <Choice
        label="To line"
        value={to.lineId}
        options={lines.map(({ id, name }) => ({ value: id, words: name }))}
        choose={chooseLine}
      />
      {sorts.length > 1 && (
        <Choice
          label="Sent as"
          value={to.sort}
          options={sorts}
          choose={(sort) => change(startTo(sort, to.lineId))}
        />
      )}
      <TargetFields show={show} to={to} change={change} />
    </div>
  );
}

function TargetFields({ show, to, change }: ToProps) {
  const { middleC } = show.settings;
  if (to.sort === 'keys')
    return <KeyRow codes={to.codes} change={(codes: KeyCode[]) => change({ ...to, codes })} />;
  if (to.sort === 'osc')
    return (
      <>
        <TypedField
          label="Addresses"
          value={to.address}
          hint="{n} is the number."
          commit={(address) => change({ ...to, address: address.trim() })}
        />
        <TypedField
          label="First number"
          value={String(to.first)}
          commit={(text) => change({ ...to, first: orThrow(readWhole(text, 'It', 0, 9999)) })}
        />
      </>
    );
  return (
    <>
      {to.sort !== 'slots' && (
        <TypedField
          label="From channel"
          value={String(to.channel + 1)}
          hint="Past the 128th it goes on at the next channel."
          commit={(text) => change({ ...to, channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 })}
        />
      )}
      <TypedField
        label="First"
        value={to.sort === 'notes' ? writeNotes([to.first, to.first], middleC) : String(to.first)}
        commit={(text) => change({ ...to, first: readFirst(to.sort, text, show) })}
      />
    </>
  );
}

function readFirst(sort: SpreadTo['sort'], text: string, show: Show): number {
  if (sort === 'slots') return orThrow(readWhole(text, 'A slot', 1, 512));
  if (sort === 'controls') return orThrow(readWhole(text, 'A controller', 0, 127));
  const notes = orThrow(readNotes(text.replace(/\s*\([^)]*\)/g, ''), show.settings.middleC));
  if (notes === 'any') throw new Error('Write the first note, like 36 or C2.');
  return notes[0];
}

const SHOWN_ROWS = 100;

function Preview({ show, wish, done }: { show: Show; wish: Spread; done: () => void }) {
  const add = useAddMappings();
  const [asOne, setAsOne] = useState(false);
  const made = spread(show, wish);
  if (!made.ok)
    return (
      <p role="status" className="border-l-3 border-straw px-3 py-1.5 text-straw">
        {made.reason}
      </p>
    );
  const { rows, one } = made;
  const single = asOne && one !== null;
  const colliding = rows.filter(({ collides }) => collides.length > 0).length;
  return (
    <div>
      <ol
        aria-label="What will be made"
        className="max-h-40 overflow-y-auto border-y border-rule font-mono text-xs"
      >
        {rows.slice(0, SHOWN_ROWS).map((row) => (
          <PreviewRow key={row.heard} row={row} />
        ))}
      </ol>
      {rows.length > SHOWN_ROWS && <p className="text-xs text-ink-2">and {rows.length - SHOWN_ROWS} more</p>}
      <div className="flex items-center gap-3 pt-2">
        <Button
          look="main"
          disabled={add.isPending}
          onClick={() => add.mutate(single ? [one] : rows.map(({ mapping }) => mapping), { onSuccess: done })}
        >
          {single ? 'Make one ranged mapping' : `Make ${rows.length} mappings`}
        </Button>
        {one && <Switch label="As one ranged mapping" on={asOne} change={setAsOne} />}
        {colliding > 0 && (
          <span className="text-straw">
            {colliding} {colliding === 1 ? 'gets' : 'get'} in the way of others
          </span>
        )}
      </div>
    </div>
  );
}

function PreviewRow({ row: { heard, sent, collides } }: { row: SpreadRow }) {
  return (
    <li className="border-b border-rule py-0.5 last:border-0" data-collides={collides.length > 0}>
      <span className="text-dusk">{heard}</span> → <span className="text-tawny">{sent}</span>
      {collides.length > 0 && <span className="font-sans text-straw"> ! {collides.join('; ')}</span>}
    </li>
  );
}
