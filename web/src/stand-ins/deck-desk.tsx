/** The deck desk: twelve faders that send Art-Net, from a process of their own. */
import { useState } from 'react';
import { useLive } from '../live/live';
import { Switch } from '../ui/switch';
import { useStandIn } from './standing';

interface DeskState {
  port: number;
  universe: number;
  faders: number[];
  dusty: number | null;
  frames: number;
}

/** The fader that dust gets into. */
const DUSTY = 11;

export function DeckDesk() {
  const { connection } = useLive();
  const state = useStandIn<DeskState>('deck-desk');
  const ask = (wish: object): void => connection.askStandIn('deck-desk', wish);
  if (!state)
    return (
      <section aria-label="Deck desk">
        <h2 className="font-semibold">Deck desk</h2>
        <p className="text-sm text-brick">The deck desk is not running. It restarts automatically.</p>
      </section>
    );
  return (
    <section aria-label="Deck desk">
      <h2 className="font-semibold">Deck desk</h2>
      <p className="pb-1 text-xs text-ink-2">
        Art-Net universe {state.universe}, slots 1–{state.faders.length}, to UDP port {state.port}.
      </p>
      <div className="flex h-22 justify-between pb-1">
        {state.faders.map((level, at) => (
          <DeckFader
            key={at}
            words={String(at + 1)}
            level={level}
            move={(next) => ask({ do: 'set', fader: at, level: next })}
          />
        ))}
      </div>
      <Switch
        label={`Dust in fader ${DUSTY + 1}`}
        on={state.dusty !== null}
        change={(on) => ask({ do: 'dust', fader: on ? DUSTY : null })}
      />
    </section>
  );
}

interface DeckFaderProps {
  words: string;
  /** Where the desk's own process says that it stands. */
  level: number;
  move: (level: number) => void;
}

function DeckFader({ words, level, move }: DeckFaderProps) {
  // While a hand is on it, it stands where the hand is.
  const [mine, setMine] = useState<number | null>(null);
  return (
    <label className="flex w-6 flex-col items-center font-mono text-xs text-ink-2">
      <input
        type="range"
        min={0}
        max={255}
        value={mine ?? level}
        aria-label={`Deck fader ${words}`}
        aria-orientation="vertical"
        className="min-h-0 w-6 flex-1 accent-(--dusk) [direction:rtl] [writing-mode:vertical-lr]"
        onChange={(event) => {
          const next = Number(event.target.value);
          setMine(next);
          move(next);
        }}
        onBlur={() => setMine(null)}
      />
      {words}
    </label>
  );
}
