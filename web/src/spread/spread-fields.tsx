/** What is spread from which line, and to which: the two forms of Spread. */
import { isMapped, isSentOn, type MappedProtocol } from '@tawny-signal/core/show/line';
import type { KeyCode } from '@tawny-signal/core/keys/codes';
import { MOST_ROWS, type SpreadFrom, type SpreadTo } from '@tawny-signal/core/spread/spread';
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
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import type { Option } from '../ui/select';
import { TypedField } from '../ui/typed-field';
import { KeyRow } from './key-row';

export const FROM_SORTS: Partial<Record<Protocol, Option<SpreadFrom['sort']>[]>> = {
  midi: [
    { value: 'notes', words: 'Notes' },
    { value: 'controls', words: 'Controllers' },
  ],
  dmx: [{ value: 'slots', words: 'Slots' }],
};
export const TO_SORTS: Record<MappedProtocol, Option<SpreadTo['sort']>[]> = {
  midi: [
    { value: 'notes', words: 'Notes' },
    { value: 'controls', words: 'Controllers' },
  ],
  dmx: [{ value: 'slots', words: 'Slots' }],
  osc: [{ value: 'osc', words: 'OSC addresses' }],
  keys: [{ value: 'keys', words: 'Keys' }],
};

export function startFrom(sort: SpreadFrom['sort'], lineId: string): SpreadFrom {
  if (sort === 'slots') return { sort, lineId, numbers: [1, 12] };
  return sort === 'notes'
    ? { sort, lineId, channel: 9, numbers: [36, 51] }
    : { sort, lineId, channel: 0, numbers: [1, 8] };
}

export function startTo(sort: SpreadTo['sort'], lineId: string): SpreadTo {
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

interface FromProps {
  show: Show;
  from: SpreadFrom;
  change: (from: SpreadFrom) => void;
}

export function FromFields({ show, from, change }: FromProps) {
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

export function ToFields({ show, to, change }: ToProps) {
  const lines = show.lines.filter(isSentOn);
  const sortsOf = (lineId: string): Option<SpreadTo['sort']>[] => {
    const protocol = protocolOf(lines.find(({ id }) => id === lineId));
    return protocol && isMapped(protocol) ? TO_SORTS[protocol] : [];
  };
  const sorts = sortsOf(to.lineId);
  function chooseLine(lineId: string): void {
    const offered = sortsOf(lineId);
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
          hint="After number 127 it continues on the next channel."
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
