/** The fields of an open source: its line, its offset, and which one counts. */
import { ArrowDown, ArrowUp } from 'lucide-react';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import { TIME_WAYS, waysOn, type TimeKind, type TimeOf, type TimeSource } from '@tawny-signal/core/time/ways';
import { AUTO } from '@tawny-signal/core/time/position';
import { FRAME_RATES, RATES, type FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import { readOffset, writeOffset } from '@tawny-signal/core/timecode/offset';
import { readNumber } from '@tawny-signal/core/typed/range';
import { RemoveButton } from '../show/removing';
import { useChangeRow, useMoveTimeSource } from '../show/show';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { NotOfTheShow } from '../ui/read-only';
import { TypedField } from '../ui/typed-field';
import { LineChoice } from './line-choice';
import { SOURCE_FIELDS } from './way-fields';
import { PATH, sourceName } from './words';

export const RATE_OPTIONS = FRAME_RATES.map((value) => ({ value, words: RATES[value].words }));
export const AS_IT_IS = 'as it is';

interface FieldsProps {
  row: TimeSource;
  /** The sources of the same sort, in the order of preference. */
  rows: readonly TimeSource[];
  show: Show;
  of: TimeOf;
  /** The id of the source that was chosen by hand; `own` or `auto`. */
  chosen: string;
  choose: (source: string) => void;
  children?: ReactNode;
}

/** What hearing it does, where that is more than the position. */
const DOES: Partial<Record<TimeKind, string>> = { mmc: ': plays our own' };

export function SourceFields({ row, rows, show, of, chosen, choose, children }: FieldsProps) {
  const { mutateAsync } = useChangeRow('timeSources');
  const save = (change: Partial<TimeSource>): Promise<unknown> => mutateAsync({ id: row.id, change });
  const move = useMoveTimeSource();
  const go = useNavigate();
  const at = rows.indexOf(row);
  const rate = show.settings.timecode.frameRate;
  const isClock = of === 'tempo';
  const ways = waysOn(show.lines.find(({ id }) => id === row.lineId)?.kind ?? null, of);
  const Own = SOURCE_FIELDS[row.kind];
  return (
    <div className="grid gap-x-6 px-3 pb-3 2xl:grid-cols-2 sm:pl-9">
      <div>
        <LineChoice show={show} of={of} row={row} save={save} />
        {ways.length > 1 && (
          <Choice
            label="Hears"
            value={row.kind}
            options={ways.map((kind) => ({ value: kind, words: TIME_WAYS[kind].words + (DOES[kind] ?? '') }))}
            choose={(kind) => save({ kind })}
          />
        )}
        {Own && <Own row={row} save={save} />}
        {!isClock && (
          <Choice<FrameRate | typeof AS_IT_IS>
            label="Frame rate"
            value={row.frameRate ?? AS_IT_IS}
            options={[{ value: AS_IT_IS, words: 'As it is sent' }, ...RATE_OPTIONS]}
            choose={(next) => save({ frameRate: next === AS_IT_IS ? null : next })}
            hint="What is sent does not tell 29.97 from 30, or 23.976 from 24."
          />
        )}
      </div>
      <div>
        {isClock ? (
          <TypedField
            label="Offset"
            value={`${row.offsetMs} ms`}
            hint="How much later its beat is taken than it comes."
            commit={(text) => save({ offsetMs: readMs(text) })}
          />
        ) : (
          <TypedField
            label="Offset"
            value={writeOffset(row.offsetMs, rate)}
            hint="Added to what is heard. A bare number is in frames."
            commit={(text) => save({ offsetMs: orThrow(readOffset(text, rate)) })}
          />
        )}
        {children}
        <div className="flex flex-wrap items-center gap-1 py-1 sm:pl-24">
          <NotOfTheShow needs="operator">
            <Button
              needs="operator"
              aria-pressed={chosen === row.id}
              onClick={() => choose(chosen === row.id ? AUTO : row.id)}
            >
              {chosen === row.id ? 'Chosen by hand' : 'Let only this one count'}
            </Button>
          </NotOfTheShow>
          <IconButton
            needs="edit"
            label="Prefer it more"
            disabled={at === 0}
            onClick={() => move.mutate({ id: row.id, after: rows[at - 2]?.id ?? null })}
          >
            <ArrowUp size={15} aria-hidden />
          </IconButton>
          <IconButton
            needs="edit"
            label="Prefer it less"
            disabled={at === rows.length - 1}
            onClick={() => move.mutate({ id: row.id, after: rows[at + 1]!.id })}
          >
            <ArrowDown size={15} aria-hidden />
          </IconButton>
          <RemoveButton
            table="timeSources"
            row={{ id: row.id, name: sourceName(show, row.id) }}
            after={() => go(PATH[of])}
          >
            Remove
          </RemoveButton>
        </div>
      </div>
    </div>
  );
}

/** Reads ms with a sign, at most a second. @throws Error that says what may be written */
export function readMs(text: string): number {
  const ms = orThrow(readNumber(text.replace(/ms\s*$/, ''), 'An offset in ms'));
  if (Math.abs(ms) > 1000) throw new Error('An offset of a clock is at most 1000 ms, forward or back.');
  return ms;
}
