import { noteName } from '@tawny-signal/core/midi/words';
import type { Show } from '@tawny-signal/core/show';
import {
  readChannels,
  readNotes,
  readNumbers,
  writeChannels,
  writeSpan,
  type SpanOrAny,
} from '@tawny-signal/core/typed/range';
import { FindField } from '../ui/find-field';
import { orThrow } from '../ui/or-throw';
import { Select, type Option } from '../ui/select';
import { TypedField } from '../ui/typed-field';
import { SORTS, type SignalSort, type TrafficFilter } from './filter';

const WAY_OPTIONS: Option<TrafficFilter['way']>[] = [
  { value: 'any', words: 'In and out' },
  { value: 'in', words: 'In' },
  { value: 'out', words: 'Out' },
  { value: 'bad', words: 'Not understood' },
];
const KIND_OPTIONS: Option<TrafficFilter['kind']>[] = [
  { value: 'any', words: 'Every kind' },
  ...(Object.keys(SORTS) as SignalSort[]).map((sort) => ({ value: sort, words: SORTS[sort] })),
];

interface FilterBarProps {
  show: Show;
  filter: TrafficFilter;
  change: (change: Partial<TrafficFilter>) => void;
}

export function FilterBar({ show, filter, change }: FilterBarProps) {
  const { middleC } = show.settings;
  /** A note's name, or a number of anything: a slot goes up to 512. */
  const readNumber = (text: string): SpanOrAny =>
    orThrow(
      /[a-g]/i.test(text) && !/any|all/i.test(text)
        ? readNotes(text, middleC)
        : readNumbers(text, 'A number', 512),
    );
  return (
    <div className="flex flex-wrap items-center gap-x-2.5 gap-y-1 pb-2">
      <div className="w-36">
        <Select
          label="Line"
          value={filter.lineId ?? 'every'}
          options={[
            { value: 'every', words: 'Every line' },
            ...show.lines.map(({ id, name }) => ({ value: id, words: name })),
          ]}
          choose={(lineId) => change({ lineId: lineId === 'every' ? null : lineId })}
        />
      </div>
      <div className="w-36">
        <Select
          label="Direction"
          value={filter.way}
          options={WAY_OPTIONS}
          choose={(way) => change({ way })}
        />
      </div>
      <div className="w-44">
        <Select label="Kind" value={filter.kind} options={KIND_OPTIONS} choose={(kind) => change({ kind })} />
      </div>
      <div className="w-44 [&>div]:grid-cols-[60px_minmax(0,1fr)]">
        <TypedField
          label="Channel"
          value={writeChannels(filter.channels)}
          commit={(text) => change({ channels: orThrow(readChannels(text)) })}
        />
      </div>
      <div className="w-44 [&>div]:grid-cols-[60px_minmax(0,1fr)]">
        <TypedField
          label="Number"
          value={writeSpan(filter.numbers)}
          placeholder={`0, ${noteName(36, middleC)}, 1-12`}
          commit={(text) => change({ numbers: readNumber(text) })}
        />
      </div>
      <FindField label="Find in traffic" text={filter.text} find={(text) => change({ text })} />
    </div>
  );
}
