/** The form of a table: its numbers come from a file, or are typed. */
import { useState } from 'react';
import { likelyColumn, readColumns, type Columns } from '@tawny-signal/core/files/columns';
import { MOST_VALUES, type Table } from '@tawny-signal/core/motion/makes/table';
import { readScale, writeScale } from '@tawny-signal/core/typed/range';
import { readNumber } from '@tawny-signal/core/typed/range';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { FileButton } from '../ui/file-button';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import type { MakeProps } from './make-props';
import { ColumnPicture } from './column-picture';

const ORDERS = [
  { value: 'next' as const, words: 'One after another' },
  { value: 'toAndFro' as const, words: 'To the end and back' },
  { value: 'random' as const, words: 'At random' },
];
const MISSING = [
  { value: 'passed' as const, words: 'Passed over' },
  { value: 'held' as const, words: 'The one before is held' },
];
/** A table of at most so many values can be typed. */
const MOST_TYPED = 200;

/** Numbers with commas or spaces between; `-` is a missing one. */
function readValues(text: string): (number | null)[] {
  const parts = text.split(/[\s;]+|,\s+/).filter((part) => part !== '');
  if (parts.length > MOST_TYPED)
    throw new Error(`At most ${MOST_TYPED} values can be typed. Import a file for more.`);
  return parts.map((part) => {
    const plain = part.replace(/,$/, '');
    return plain === '-' || plain === '–' ? null : orThrow(readNumber(plain, 'A value'));
  });
}

export function TableFields({ makes, motion, save }: MakeProps<Table>) {
  const [text, setText] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const { values } = makes;

  async function open(file: File): Promise<void> {
    setRefused(null);
    // A file of gigabytes is not read into memory to be refused.
    const read = file.size > 64 << 20 ? null : await file.text();
    const columns = read === null ? null : readColumns(read);
    if (columns?.ok) setText(read);
    else
      setRefused(
        columns?.reason ?? 'The file is larger than 64 MB. Cut it into parts, or take every tenth row.',
      );
  }

  return (
    <>
      <ColumnPicture motion={motion} makes={makes} />
      <div className="flex flex-wrap items-center gap-2 py-1 pl-24">
        <FileButton
          needs="edit"
          words="Import a CSV"
          accept=".csv,.txt,.tsv,text/csv"
          take={(file) => void open(file)}
        />
        <span className="text-xs text-ink-3">
          {values.length === 0 ? 'No numbers yet.' : `${values.length.toLocaleString('en-GB')} values`}
        </span>
      </div>
      {refused !== null && (
        <p role="alert" className="pb-1 pl-24 text-xs text-brick">
          {refused}
        </p>
      )}
      {text !== null && (
        <ChooseColumn
          text={text}
          close={() => setText(null)}
          take={async (name, next) => {
            await save({ ...makes, name, values: next });
            setText(null);
          }}
        />
      )}
      {values.length <= MOST_TYPED && (
        <TypedField
          label="Values"
          value={values.map((value) => value ?? '-').join(', ')}
          placeholder="4.5, 6, -, 8"
          hint="With commas and spaces between; - is a missing one."
          commit={(typed) => save({ ...makes, values: readValues(typed) })}
        />
      )}
      <TypedField
        label="Name"
        value={makes.name}
        placeholder="Temperature"
        commit={(name) => save({ ...makes, name })}
      />
      <Choice
        label="Order"
        value={makes.order}
        options={ORDERS}
        choose={(order) => save({ ...makes, order })}
      />
      <TypedField
        label="Goes on by"
        value={String(makes.stride)}
        hint="2 takes every second value, 0.5 each one twice, -1 goes backward."
        commit={(typed) => save({ ...makes, stride: orThrow(readNumber(typed, 'A number of values')) })}
      />
      <Choice
        label="Missing"
        value={makes.missing}
        options={MISSING}
        choose={(missing) => save({ ...makes, missing })}
      />
      <TypedField
        label="Limits"
        value={makes.limits ? writeScale(makes.limits) : ''}
        placeholder="smallest and largest"
        hint="What becomes 0 and 100 %."
        commit={(typed) => save({ ...makes, limits: typed.trim() === '' ? null : orThrow(readScale(typed)) })}
      />
    </>
  );
}

interface ChooseProps {
  text: string;
  close: () => void;
  take: (name: string, values: (number | null)[]) => Promise<unknown>;
}

const HEADERS = [
  { value: 'yes' as const, words: 'The first line names the columns' },
  { value: 'no' as const, words: 'There are numbers from the first line on' },
];
const DECIMALS = [
  { value: '.' as const, words: 'Point: 4.5' },
  { value: ',' as const, words: 'Comma: 4,5' },
];

/** What is in the file, before it is taken. */
function ChooseColumn({ text, close, take }: ChooseProps) {
  const [asked, setAsked] = useState<{ header: boolean | null; decimal: '.' | ',' | null }>({
    header: null,
    decimal: null,
  });
  const [chosen, setChosen] = useState<number | null>(null);
  const read = readColumns(text, asked);
  if (!read.ok)
    return (
      <div role="alert" className="flex items-center gap-2 pb-1 pl-24 text-xs text-brick">
        {read.reason}{' '}
        <Button needs="edit" onClick={() => setAsked({ header: null, decimal: null })}>
          As it was
        </Button>
      </div>
    );
  const { columns, header, decimal, rows }: Columns = read.value;
  const best = likelyColumn(columns);
  const at = chosen !== null && chosen < columns.length ? chosen : best;
  const column = columns[at]!;
  const known = column.values.filter((value) => value !== null);
  return (
    <div
      role="group"
      aria-label="The file"
      className="my-1 border-l-2 border-tawny bg-bark-2 py-1.5 pr-2 pl-2"
    >
      <Choice
        label="Column"
        value={String(at)}
        options={columns.map(({ name }, place) => ({ value: String(place), words: name }))}
        choose={(place) => setChosen(Number(place))}
      />
      <Choice
        label="First line"
        value={header ? 'yes' : 'no'}
        options={HEADERS}
        choose={(next) => setAsked({ ...asked, header: next === 'yes' })}
      />
      <Choice
        label="Decimals"
        value={decimal}
        options={DECIMALS}
        choose={(next) => setAsked({ ...asked, decimal: next })}
      />
      <p className="pl-24 font-mono text-xs text-ink-2">
        {known.slice(0, 8).join('  ')}
        {known.length > 8 && ' …'}
      </p>
      <p role="status" className="py-1 pl-24 text-xs text-ink-2">
        {known.length.toLocaleString('en-GB')} numbers in {rows.toLocaleString('en-GB')} rows
        {column.missing > 0 && `, ${column.missing.toLocaleString('en-GB')} missing`}.
        {column.badCount > 0 && (
          <span className="text-straw">
            {' '}
            Not numbers: {column.bad.map(({ line, text: cell }) => `“${cell}” in line ${line}`).join(', ')}
            {column.badCount > column.bad.length && ` and ${column.badCount - column.bad.length} more`}.
          </span>
        )}
      </p>
      <div className="flex gap-2 pl-24">
        <Button
          needs="edit"
          look="main"
          disabled={known.length === 0}
          onClick={() => void take(column.name, column.values.slice(0, MOST_VALUES)).catch(() => undefined)}
        >
          Take this column
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </div>
  );
}
