/** What is passing: the newest on top, decoded, raw and frozen on demand. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { Download, Pause, Play } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import { KEPT_TRAFFIC, type Passing } from '../live/store';
import { useShow } from '../show/show';
import { Button } from '../ui/button';
import { FindField } from '../ui/find-field';
import { Empty, Page } from '../ui/page';
import { Pop } from '../ui/pop';
import { Select, type Option } from '../ui/select';
import { Switch } from '../ui/switch';
import { EVERYTHING, filterTraffic, type TrafficFilter } from './filter';
import { download, saveTraffic, type SaveFormat } from './save';
import { clockWords, hexOf, lineName, senderName, wordsOf } from './words';

const COLUMNS = 'grid grid-cols-[116px_84px_150px_minmax(0,1fr)] items-baseline gap-x-3 px-3';
const ROW = 30;
const RAW_ROW = 48;

export function TrafficPage() {
  const show = useShow();
  const [raw, setRaw] = useState(false);
  const [filter, setFilter] = useState(EVERYTHING);
  const [frozen, setFrozen] = useState<readonly Passing[] | null>(null);
  const live = useLiveValue('traffic', (store) => store.traffic(), 100);
  const dropped = useLiveValue('traffic', (store) => store.dropped(), 500);
  const records = frozen ?? live;
  const shown = useMemo(() => filterTraffic(records, filter, show, MOST_ROWS), [records, filter, show]);

  return (
    <Page
      title="Traffic"
      aside={
        <p className="text-sm text-ink-2">
          {records.length} kept{dropped > 0 ? `, ${dropped} passed too fast to be shown` : ''}
          {frozen && <span className="text-straw"> · frozen; signals go on</span>}
        </p>
      }
      actions={
        <>
          <FilterBar show={show} filter={filter} setFilter={setFilter} />
          <Switch label="Raw bytes" on={raw} change={setRaw} />
          <Button aria-pressed={frozen !== null} onClick={() => setFrozen(frozen ? null : live)}>
            {frozen ? <Play size={15} aria-hidden /> : <Pause size={15} aria-hidden />}{' '}
            {frozen ? 'Go on' : 'Freeze'}
          </Button>
          <SaveButton
            records={() => filterTraffic(records, filter, show, KEPT_TRAFFIC).reverse()}
            show={show}
          />
        </>
      }
    >
      {records.length === 0 ? (
        <Empty words="Nothing has passed since this page was opened. Press a pad, start the score, or move a fader." />
      ) : (
        <>
          <TrafficList records={shown} show={show} raw={raw} />
          {shown.length === 0 && (
            <p className="pb-10 text-center text-ink-2">Nothing that passed is like that.</p>
          )}
        </>
      )}
    </Page>
  );
}

/** How many rows can be scrolled through. */
const MOST_ROWS = 5000;

const WAY_OPTIONS: Option<TrafficFilter['way']>[] = [
  { value: 'any', words: 'In and out' },
  { value: 'in', words: 'In' },
  { value: 'out', words: 'Out' },
  { value: 'bad', words: 'Not understood' },
];

interface FilterBarProps {
  show: Show;
  filter: TrafficFilter;
  setFilter: (filter: TrafficFilter) => void;
}

function FilterBar({ show, filter, setFilter }: FilterBarProps) {
  return (
    <>
      <div className="w-36">
        <Select
          label="Line"
          value={filter.lineId ?? 'every'}
          options={[
            { value: 'every', words: 'Every line' },
            ...show.lines.map(({ id, name }) => ({ value: id, words: name })),
          ]}
          choose={(lineId) => setFilter({ ...filter, lineId: lineId === 'every' ? null : lineId })}
        />
      </div>
      <div className="w-36">
        <Select
          label="Way"
          value={filter.way}
          options={WAY_OPTIONS}
          choose={(way) => setFilter({ ...filter, way })}
        />
      </div>
      <FindField label="Find in traffic" text={filter.text} find={(text) => setFilter({ ...filter, text })} />
    </>
  );
}

const FORMATS: { format: SaveFormat; words: string }[] = [
  { format: 'jsonl', words: 'JSON lines' },
  { format: 'csv', words: 'CSV, for a spreadsheet' },
  { format: 'mid', words: 'MIDI file' },
];

/** Saves what is shown. @param records the oldest first */
function SaveButton({ records, show }: { records: () => readonly Passing[]; show: Show }) {
  const [open, setOpen] = useState(false);
  return (
    <Pop
      align="end"
      width="w-56"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button>
          <Download size={15} aria-hidden /> Save
        </Button>
      }
    >
      <p className="pb-1 text-ink-2">What is shown, as</p>
      {FORMATS.map(({ format, words }) => (
        <Button
          key={format}
          look="bare"
          className="w-full justify-start!"
          onClick={() => {
            download(saveTraffic(format, records(), show));
            setOpen(false);
          }}
        >
          {words}
        </Button>
      ))}
    </Pop>
  );
}

function TrafficList({ records, show, raw }: { records: readonly Passing[]; show: Show; raw: boolean }) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: records.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => (raw ? RAW_ROW : ROW),
    getItemKey: (at) => records[at]!.seq,
    overscan: 10,
  });
  return (
    <>
      <div className={`${COLUMNS} border-y border-rule py-1.5 text-sm text-ink-3`} aria-hidden>
        <span>Time</span>
        <span>Way</span>
        <span>Line</span>
        <span>Message</span>
      </div>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-y-auto"
        tabIndex={0}
        role="log"
        aria-live="off"
        aria-label="Messages"
      >
        <ol className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => (
            <li
              key={item.key}
              className="absolute top-0 left-0 w-full border-b border-rule"
              style={{ transform: `translateY(${item.start}px)`, height: item.size }}
            >
              <TrafficRow record={records[item.index]!} show={show} raw={raw} />
            </li>
          ))}
        </ol>
      </div>
    </>
  );
}

const WAYS: Record<Passing['direction'], { words: string; colour: string }> = {
  in: { words: '→ in', colour: 'text-dusk' },
  out: { words: 'out →', colour: 'text-tawny' },
  heldBack: { words: 'held back', colour: 'text-straw' },
  bad: { words: '! in', colour: 'text-brick' },
};

function TrafficRow({ record, show, raw }: { record: Passing; show: Show; raw: boolean }) {
  const way = WAYS[record.direction];
  const sender = senderName(show, record.senderId);
  return (
    <div className={`${COLUMNS} pt-1 text-sm`} data-way={record.direction}>
      <span className="font-mono text-ink-3">{clockWords(record.at)}</span>
      <span className={way.colour}>{way.words}</span>
      <span className="truncate">{lineName(show, record.lineId)}</span>
      <span className="truncate font-mono">
        {wordsOf(record, show)}
        {sender && <span className="font-sans text-ink-3"> · by {sender}</span>}
        {record.direction !== 'in' && record.cause === 0 && !record.reason && !sender && (
          <span className="font-sans text-ink-3"> · by hand</span>
        )}
      </span>
      {raw && <span className="col-start-4 truncate font-mono text-xs text-ink-2">{hexOf(record)}</span>}
    </div>
  );
}
