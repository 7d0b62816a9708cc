/** Pads and faders on the screen: a controller for those who have none plugged in. Speaks MIDI bytes. */
import { useCallback, useEffect, useRef, useState, useSyncExternalStore, type PointerEvent } from 'react';
import { noteName } from '@tawny-signal/core/midi/words';
import { useLive } from '../live/live';
import type { PadLamps } from '../live/pad-lamps';
import { useShow } from '../show/show';
import { BareButton } from '../ui/button';

const PADS = Array.from({ length: 16 }, (_, at) => 36 + at);
const FADERS = [21, 22, 23, 24];
const PAD_CHANNEL = 9;
const FADER_CHANNEL = 1;

/** The top row of pads is the far one: the lowest notes are nearest to the player. */
const ROWS = [PADS.slice(12), PADS.slice(8, 12), PADS.slice(4, 8), PADS.slice(0, 4)];

export function PierPads() {
  const { midi } = useLive();
  const { settings } = useShow();
  const held = useRef(new Set<number>());

  const press = useCallback(
    (note: number, velocity: number) => {
      held.current.add(note);
      midi.playPads([0x90 | PAD_CHANNEL, note, velocity]);
    },
    [midi],
  );
  const release = useCallback(
    (note: number) => {
      if (held.current.delete(note)) midi.playPads([0x80 | PAD_CHANNEL, note, 64]);
    },
    [midi],
  );
  useEffect(() => {
    const down = held.current;
    return () => {
      for (const note of down) release(note);
    };
  }, [release]);

  return (
    <section aria-label="Pier pads">
      <h2 className="font-semibold">Pier pads</h2>
      <p className="pb-2 text-xs text-ink-2">Channel 10. Press lower on a pad for more force.</p>
      <div className="grid grid-cols-4 gap-1.5">
        {ROWS.flat().map((note) => (
          <Pad
            key={note}
            note={note}
            name={noteName(note, settings.middleC)}
            press={press}
            release={release}
          />
        ))}
      </div>
      <div className="grid grid-cols-2 gap-x-4 gap-y-1 pt-3">
        {FADERS.map((number, at) => (
          <Fader
            key={number}
            number={number}
            words={`Fader ${at + 1}`}
            move={(value) => midi.playPads([0xb0 | FADER_CHANNEL, number, value])}
          />
        ))}
      </div>
    </section>
  );
}

interface PadProps {
  note: number;
  name: string;
  press: (note: number, velocity: number) => void;
  release: (note: number) => void;
}

/** From the top edge to the bottom: velocity 20 to 127. */
function forceAt(event: PointerEvent<HTMLElement>): number {
  const box = event.currentTarget.getBoundingClientRect();
  const place = Math.min(1, Math.max(0, (event.clientY - box.top) / box.height));
  return Math.round(20 + place * 107);
}

const KEY_FORCE = 100;

/** What the pads were told. */
function useLamps<T>(read: (lamps: PadLamps) => T): T {
  const { lamps } = useLive().midi;
  return useSyncExternalStore(
    (listener) => lamps.subscribe(listener),
    () => read(lamps),
  );
}

function Pad({ note, name, press, release }: PadProps) {
  const lamp = useLamps((lamps) => lamps.lamp(note));
  /** What holds it down. */
  const [by, setBy] = useState<'pointer' | 'key' | null>(null);
  const down = by !== null;
  const start = (velocity: number, holder: 'pointer' | 'key'): void => {
    setBy(holder);
    press(note, velocity);
  };
  const stop = (): void => {
    setBy(null);
    release(note);
  };
  return (
    <BareButton
      needs="operator"
      aria-label={`Pad ${note - 35}, ${note} ${name}${lamp > 0 ? `, ${lamp} lamp` : ''}`}
      aria-pressed={down}
      className={`relative flex h-12 touch-none flex-col justify-end rounded border p-1.5 text-left leading-4 select-none ${down ? 'border-dusk bg-dusk text-paper' : 'border-rule bg-bark text-ink hover:bg-bark-2'}`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        start(forceAt(event), 'pointer');
      }}
      onPointerUp={stop}
      onPointerCancel={stop}
      onKeyDown={(event) => {
        if ((event.key !== ' ' && event.key !== 'Enter') || event.repeat) return;
        event.preventDefault();
        start(KEY_FORCE, 'key');
      }}
      onKeyUp={(event) => (event.key === ' ' || event.key === 'Enter') && stop()}
      // The release of a key that is let go elsewhere is never told; a pointer’s is.
      onBlur={() => by === 'key' && stop()}
    >
      <b className="text-sm">{note - 35}</b>{' '}
      <span className={`font-mono text-xs ${down ? '' : 'text-ink-2'}`}>
        {note} {name}
      </span>{' '}
      {lamp > 0 && (
        <span className="absolute top-1.5 right-1.5 flex items-center gap-1 font-mono text-xs">
          <span
            aria-hidden
            className={`size-2.5 rounded-full border ${down ? 'border-paper bg-paper' : 'border-tawny bg-tawny'}`}
          />
          {lamp}
        </span>
      )}
    </BareButton>
  );
}

function Fader({ number, words, move }: { number: number; words: string; move: (value: number) => void }) {
  const [value, setValue] = useState(0);
  const motor = useLamps((lamps) => lamps.motor(number));
  const [told, setTold] = useState(motor?.told ?? 0);
  // The motor moves it; that is no move of a hand, and is not said back.
  if (motor && motor.told !== told) {
    setTold(motor.told);
    setValue(motor.value);
  }
  return (
    <label className="block text-xs text-ink-2">
      <span className="flex justify-between">
        <span>
          {words} · CC {number}
        </span>
        <span className="font-mono text-ink">{value}</span>
      </span>
      <input
        type="range"
        min={0}
        max={127}
        value={value}
        aria-label={`${words}, CC ${number}`}
        className="h-8 w-full accent-(--dusk)"
        onChange={(event) => {
          const next = Number(event.target.value);
          setValue(next);
          move(next);
        }}
      />
    </label>
  );
}
