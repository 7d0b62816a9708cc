/** The form of a route: what passes, and what it becomes. */
import { CARRIES, isRouted } from '@tawny-signal/core/show/line';
import { KIND_WORDS, newRoute, readMoves, writeMoves } from '@tawny-signal/core/routes/words';
import type { Show } from '@tawny-signal/core/show';
import type { Route, RouteKind, RouteOf } from '@tawny-signal/core/show/route';
import { readNotes, readSlots, readWhole, writeNotes, writeSpan } from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';

type Save = (change: object) => Promise<unknown>;

interface RouteFieldsProps {
  route: Route;
  show: Show;
  save: Save;
}

export function RouteFields({ route, show, save }: RouteFieldsProps) {
  const lines = show.lines.filter((line) => isRouted(CARRIES[line.kind]));
  const fitting = lines.filter((line) => protocolOf(line) === route.carries);
  /** A different protocol resets the route, and removes a target that does not carry it. */
  function chooseFrom(fromId: string): Promise<unknown> {
    const carried = protocolOf(show.lines.find((line) => line.id === fromId));
    if (carried === route.carries || carried === null || !isRouted(carried)) return save({ fromId });
    return save({ ...newRoute(carried, fromId, null) });
  }
  return (
    <div className="grid grid-cols-2 gap-x-8">
      <div>
        <Choice
          label="From"
          value={route.fromId}
          placeholder="Choose a line"
          options={lines.map(({ id, name }) => ({ value: id, words: name }))}
          choose={chooseFrom}
        />
        <Choice
          label="To"
          value={route.toId}
          placeholder="Choose a line"
          options={fitting.map(({ id, name }) => ({ value: id, words: name }))}
          choose={(toId) => save({ toId })}
        />
        <div className="py-1.5 pl-24">
          <Switch
            label="Receivers don’t send back (skip loop check)"
            on={route.ring}
            change={(ring) => void save({ ring }).catch(() => undefined)}
          />
        </div>
      </div>
      <div>
        <Passing route={route} show={show} save={save} />
      </div>
    </div>
  );
}

function Passing({ route, show, save }: RouteFieldsProps) {
  switch (route.carries) {
    case 'midi':
      return <MidiFields route={route} show={show} save={save} />;
    case 'osc':
      return (
        <>
          <TypedField
            label="Beginning"
            value={route.prefix}
            hint="Addresses that begin with this pass; / passes all."
            commit={(prefix) => save({ prefix })}
          />
          <TypedField
            label="Becomes"
            value={route.newPrefix}
            hint="Replaces the beginning."
            commit={(newPrefix) => save({ newPrefix })}
          />
        </>
      );
    case 'dmx':
      return (
        <>
          <TypedField
            label="Slots"
            value={writeSpan(route.slots)}
            commit={(text) => save({ slots: orThrow(readSlots(text)) })}
          />
          <TypedField
            label="Moved by"
            value={String(route.offset)}
            hint="Slots: with 12, slot 1 becomes slot 13."
            commit={(text) => save({ offset: orThrow(readWhole(text, 'An offset', -511, 511)) })}
          />
        </>
      );
  }
}

function MidiFields({ route, show, save }: { route: RouteOf<'midi'>; show: Show; save: Save }) {
  const { middleC } = show.settings;
  const kinds = Object.keys(KIND_WORDS) as RouteKind[];
  return (
    <>
      <TypedField
        label="Channels"
        value={writeMoves(route.channels)}
        hint="1-8 passes these; 10 -> 2 moves; separate with commas; or any."
        commit={(text) => save({ channels: orThrow(readMoves(text)) })}
      />
      <TypedField
        label="Notes"
        value={writeNotes(route.notes, middleC)}
        commit={(text) => save({ notes: orThrow(readNotes(text.replace(/\s*\(.*\)$/, ''), middleC)) })}
      />
      <TypedField
        label="Transposed"
        value={String(route.transpose)}
        hint="Semitones; 12 is an octave up."
        commit={(text) => save({ transpose: orThrow(readWhole(text, 'Transposing', -127, 127)) })}
      />
      <fieldset className="grid grid-cols-[84px_1fr] gap-x-3 py-1">
        <legend className="sr-only">Kinds of message that pass</legend>
        <span className="pt-1.5 text-sm text-ink-2" aria-hidden>
          Passes
        </span>
        <div className="flex flex-wrap gap-x-4">
          {kinds.map((kind) => (
            <label key={kind} className="flex min-h-8 items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                className="size-4 accent-tawny"
                checked={route.kinds.includes(kind)}
                onChange={(event) =>
                  void save({
                    kinds: event.target.checked
                      ? kinds.filter((other) => other === kind || route.kinds.includes(other))
                      : route.kinds.filter((other) => other !== kind),
                  }).catch(() => undefined)
                }
              />
              {KIND_WORDS[kind]}
            </label>
          ))}
        </div>
      </fieldset>
    </>
  );
}
