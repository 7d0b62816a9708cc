/** Spread: these controls to those targets, looked at before it is made. */
import { isSentOn, type MappedProtocol } from '@tawny-signal/core/show/line';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { spread, type SpreadFrom, type SpreadRow, type SpreadTo } from '@tawny-signal/core/spread/spread';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { protocolOf } from '../lines/kinds';
import { useAddMappings, useShow } from '../show/show';
import { Button, IconButton } from '../ui/button';
import { Switch } from '../ui/switch';
import { SpreadDrawing } from './spread-drawing';
import { FROM_SORTS, FromFields, startFrom, startTo, TO_SORTS, ToFields } from './spread-fields';

/** The first line that fits, and what is spread from it. */
function startOf(show: Show): { from: SpreadFrom | null; to: SpreadTo | null } {
  const source = show.lines.find((line) => FROM_SORTS[protocolOf(line)!] !== undefined);
  const sentOn = show.lines.filter(isSentOn);
  const target = sentOn.find((line) => protocolOf(line) === 'osc') ?? sentOn.find((line) => line !== source);
  return {
    from: source ? startFrom(FROM_SORTS[protocolOf(source)!]![0]!.value, source.id) : null,
    to: target ? startTo(TO_SORTS[protocolOf(target) as MappedProtocol][0]!.value, target.id) : null,
  };
}

interface SpreadPanelProps {
  close: () => void;
  /** Called with the mappings that were made. */
  made: (ids: string[]) => void;
}

export function SpreadPanel({ close, made }: SpreadPanelProps) {
  const show = useShow();
  const [start] = useState(() => startOf(show));
  const [from, setFrom] = useState(start.from);
  const [to, setTo] = useState(start.to);
  const [held, setHeld] = useState(true);
  const result = useMemo(
    () => (from && to ? spread(show, { from, to, held }) : null),
    [show, from, to, held],
  );
  return (
    <section aria-label="Spread a range" className="mb-2 border-l-3 border-tawny bg-bark px-4 py-2.5 text-sm">
      <div className="flex items-center justify-between">
        <h2 className="font-semibold">Spread a range</h2>
        <IconButton label="Cancel the spread" onClick={close}>
          <X size={16} aria-hidden />
        </IconButton>
      </div>
      {from && to && result ? (
        <>
          <div className="grid gap-x-6 gap-y-2 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)_minmax(0,1.1fr)]">
            <div>
              <FromFields show={show} from={from} change={setFrom} />
              {from.sort === 'notes' && (
                <div className="py-1 pl-24">
                  <Switch label="Held as long as the note" on={held} change={setHeld} />
                </div>
              )}
            </div>
            <ToFields show={show} to={to} change={setTo} />
            <Preview
              result={result}
              done={(rows) => {
                made(rows.map(({ id }) => id));
                close();
              }}
            />
          </div>
          {result.ok && (
            <SpreadDrawing from={from} to={to} rows={result.rows} middleC={show.settings.middleC} />
          )}
        </>
      ) : (
        <p className="py-2">
          A spread needs two lines: one to hear and one to send on. Add them under Lines.
        </p>
      )}
    </section>
  );
}

/** As many as a spread can make. */
const SHOWN_ROWS = 512;

interface PreviewProps {
  result: ReturnType<typeof spread>;
  done: (made: Mapping[]) => void;
}

function Preview({ result, done }: PreviewProps) {
  const add = useAddMappings();
  const [asOne, setAsOne] = useState(false);
  if (!result.ok)
    return (
      <p role="status" className="border-l-3 border-straw px-3 py-1.5 text-straw">
        {result.reason}
      </p>
    );
  const { rows, one } = result;
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
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 pt-2">
        <Button
          needs="edit"
          look="main"
          disabled={add.isPending}
          onClick={() => add.mutate(single ? [one] : rows.map(({ mapping }) => mapping), { onSuccess: done })}
        >
          {single ? 'Make one ranged mapping' : `Make ${rows.length} mappings`}
        </Button>
        {one && <Switch label="As one ranged mapping" on={asOne} change={setAsOne} />}
        {colliding > 0 && (
          <span className="text-straw">
            {colliding} {colliding === 1 ? 'clashes' : 'clash'} with existing mappings
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
