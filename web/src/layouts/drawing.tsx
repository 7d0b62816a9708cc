/** The drawing of a layout: each control at its place, with its name and its mappings. Controls are dragged, or moved with Alt and the arrow keys. */
import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { usesOfControls, type ControlUse } from '@tawny-signal/core/uses/controls';
import type { Show } from '@tawny-signal/core/show';
import type { Layout, LayoutControl } from '@tawny-signal/core/show/layout';

/** The size of a column and a row in pixels. */
const COLUMN = 84;
const ROW = 60;
const LAST = 63;

interface DrawingProps {
  layout: Layout;
  show: Show;
  chosen: string | null;
  choose: (id: string) => void;
  change: (values: Partial<Layout>) => Promise<unknown>;
}

const within = (value: number): number => Math.max(0, Math.min(LAST, value));

export function Drawing({ layout, show, chosen, choose, change }: DrawingProps) {
  const [moving, setMoving] = useState<{ id: string; x: number; y: number } | null>(null);
  const grabbed = useRef({ x: 0, y: 0, fromX: 0, fromY: 0 });
  const uses = useMemo(() => usesOfControls(show, layout), [show, layout]);
  const free = layout.controls.filter(({ id }) => !uses.has(id)).length;
  const columns = Math.max(8, ...layout.controls.map(({ x, width }) => x + width));
  const rows = Math.max(4, ...layout.controls.map(({ y, height }) => y + height));

  function put(id: string, x: number, y: number): void {
    const controls = layout.controls.map((one) =>
      one.id === id ? { ...one, x: within(x), y: within(y) } : one,
    );
    void change({ controls })
      .catch(() => undefined)
      .finally(() => setMoving(null));
  }
  function grab(event: PointerEvent, { id, x, y }: LayoutControl): void {
    choose(id);
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    grabbed.current = { x: event.clientX, y: event.clientY, fromX: x, fromY: y };
    setMoving({ id, x, y });
  }
  function drag(event: PointerEvent): void {
    if (!moving) return;
    const { x, y, fromX, fromY } = grabbed.current;
    const next = {
      ...moving,
      x: within(fromX + Math.round((event.clientX - x) / COLUMN)),
      y: within(fromY + Math.round((event.clientY - y) / ROW)),
    };
    if (next.x !== moving.x || next.y !== moving.y) setMoving(next);
  }
  function drop({ id, x, y }: LayoutControl): void {
    if (!moving || moving.id !== id) return;
    if (moving.x === x && moving.y === y) setMoving(null);
    else put(id, moving.x, moving.y);
  }
  function onKey(event: KeyboardEvent, { id, x, y }: LayoutControl): void {
    const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
    const down = { ArrowUp: -1, ArrowDown: 1 }[event.key] ?? 0;
    if (!event.altKey || (across === 0 && down === 0)) return;
    event.preventDefault();
    put(id, x + across, y + down);
  }

  return (
    <>
      <p className="pb-2 text-sm text-ink-2">
        {layout.controls.length} controls, <span className="text-moss">{free} free</span>. Drag to move, or
        Alt and the arrows.
      </p>
      <div
        role="group"
        aria-label={`${layout.name}, as arranged`}
        className="relative rounded border border-rule bg-raised"
        style={{ width: columns * COLUMN + 12, height: rows * ROW + 12 }}
      >
        {layout.controls.map((control) => {
          const { x, y } = moving?.id === control.id ? moving : control;
          return (
            <button
              key={control.id}
              type="button"
              aria-pressed={control.id === chosen}
              aria-label={`${control.name}, ${whatWords(uses.get(control.id))}`}
              className={`absolute flex touch-none flex-col overflow-hidden rounded border p-1.5 text-left text-xs ${
                control.id === chosen ? 'border-tawny bg-bark-2' : 'border-rule bg-bark hover:bg-bark-2'
              } ${moving?.id === control.id ? 'z-10 opacity-80' : ''}`}
              style={{
                left: x * COLUMN + 8,
                top: y * ROW + 8,
                width: control.width * COLUMN - 4,
                height: control.height * ROW - 4,
              }}
              onPointerDown={(event) => grab(event, control)}
              onPointerMove={drag}
              onPointerUp={() => drop(control)}
              onPointerCancel={() => setMoving(null)}
              onClick={() => choose(control.id)}
              onKeyDown={(event) => onKey(event, control)}
            >
              <Shape control={control} />
              <span className="truncate font-semibold">{control.name}</span>{' '}
              <What uses={uses.get(control.id)} />
            </button>
          );
        })}
        {layout.controls.length === 0 && (
          <p className="p-4 text-sm text-ink-2">
            No controls yet. Press Learn its controls, then touch each one.
          </p>
        )}
      </div>
    </>
  );
}

/** What uses a control: the first, and how many more. */
const whatWords = ([first, ...more]: ControlUse[] = []): string =>
  first ? `${first.words}${more.length > 0 ? ` +${more.length}` : ''}` : 'free';

function What({ uses }: { uses: ControlUse[] | undefined }) {
  if (!uses) return <span className="text-moss">free</span>;
  return (
    <span className="truncate text-ink-2" title={uses.map(({ words }) => words).join(', ')}>
      {whatWords(uses)}
    </span>
  );
}

/** Draws the slot of a fader or the circle of a knob. A pad is just its field. */
function Shape({ control: { shape, lamp } }: { control: LayoutControl }) {
  if (shape === 'fader')
    return (
      <span aria-hidden className="my-1 flex flex-1 justify-center">
        <span className="h-full w-px bg-ink-3" />
      </span>
    );
  if (shape === 'knob')
    return <span aria-hidden className="mb-0.5 size-3.5 rounded-full border border-ink-3" />;
  return lamp ? (
    <span aria-hidden className="absolute top-1.5 right-1.5 size-2 rounded-full bg-tawny" />
  ) : null;
}
