/** Our own position: play, stop, go to a place, speed and loop. */
import { Play, Square } from 'lucide-react';
import { useState } from 'react';
import type { Show } from '@tawny-signal/core/show';
import { AUTO, OWN } from '@tawny-signal/core/time/position';
import { framesAt, msOf, readTimecode, writePosition } from '@tawny-signal/core/timecode/timecode';
import { readNumber } from '@tawny-signal/core/typed/range';
import { usePosition } from '../show/show';
import { Button } from '../ui/button';
import { orThrow } from '../ui/or-throw';
import { Pop } from '../ui/pop';
import { NotOfTheShow } from '../ui/read-only';
import { TypedField } from '../ui/typed-field';
import { usePositionSeen } from './use-position';

export function Own({ show }: { show: Show }) {
  const position = usePositionSeen();
  const act = usePosition();
  const playing = position?.counts === OWN && position.motion.speed !== 0;
  return (
    <NotOfTheShow needs="operator">
      <div className="flex flex-wrap items-center gap-2">
        {position && position.chosen !== AUTO && (
          <Button needs="operator" onClick={() => act.mutate({ do: 'choose', source: AUTO })}>
            Follow by itself again
          </Button>
        )}
        <Button
          needs="operator"
          look={playing ? 'plain' : 'main'}
          disabled={playing}
          onClick={() => act.mutate({ do: 'play' })}
        >
          <Play size={14} aria-hidden /> Play our own
        </Button>
        <Button needs="operator" onClick={() => act.mutate({ do: 'stop' })}>
          <Square size={13} aria-hidden /> Stop
        </Button>
        <GoTo show={show} />
        <SpeedAndLoop show={show} />
      </div>
    </NotOfTheShow>
  );
}

function GoTo({ show }: { show: Show }) {
  const [open, setOpen] = useState(false);
  const act = usePosition();
  const rate = show.settings.timecode.frameRate;
  const [text, setText] = useState('');
  const [error, setError] = useState<string | null>(null);
  const read = (): number | null => {
    const frame = readTimecode(text, rate);
    setError(frame.ok ? null : frame.reason);
    return frame.ok ? msOf(frame.value, rate) : null;
  };
  const go = (play: boolean): void => {
    const ms = read();
    if (ms === null) return;
    act.mutate({ do: play ? 'playFrom' : 'locate', ms });
    setOpen(false);
  };
  return (
    <Pop
      align="end"
      width="w-72"
      open={open}
      setOpen={setOpen}
      trigger={<Button needs="operator">Go to …</Button>}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          go(false);
        }}
      >
        <label htmlFor="go-to" className="block pb-1 text-ink-2">
          Timecode
        </label>
        <input
          id="go-to"
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder={writePosition(0, rate)}
          aria-invalid={error !== null}
          autoComplete="off"
          className={`h-9 w-full rounded border bg-paper px-2 font-mono ${error ? 'border-brick' : 'border-rule'}`}
        />
        {error && (
          <p role="alert" className="pt-1 text-xs text-brick">
            {error}
          </p>
        )}
        <div className="flex gap-2 pt-2">
          <Button type="submit">Go there</Button>
          <Button onClick={() => go(true)}>Play from there</Button>
        </div>
      </form>
    </Pop>
  );
}

function SpeedAndLoop({ show }: { show: Show }) {
  const position = usePositionSeen();
  const act = usePosition();
  const rate = show.settings.timecode.frameRate;
  const loop = position?.loop ?? null;
  const [from, setFrom] = useState<number | null>(null);
  const at = (text: string): number => msOf(orThrow(readTimecode(text, rate)), rate);
  const words = (ms: number | null | undefined): string =>
    ms === null || ms === undefined ? '' : writePosition(framesAt(ms, rate) ? ms : 0, rate);
  return (
    <Pop
      align="end"
      width="w-80"
      trigger={<Button needs="operator">{loop ? 'Speed, loop on' : 'Speed and loop'}</Button>}
    >
      <TypedField
        label="Speed"
        value={`${Math.round((position?.ownSpeed ?? 1) * 1000) / 10} %`}
        hint="25 to 400 %, of our own position."
        commit={(text) =>
          act.mutateAsync({
            do: 'speed',
            speed: orThrow(readNumber(text.replace(/%\s*$/, ''), 'A speed')) / 100,
          })
        }
      />
      <TypedField
        label="Loop from"
        value={words(loop?.from ?? from)}
        placeholder="no loop"
        commit={(text) => {
          const ms = at(text);
          setFrom(ms);
          return loop ? act.mutateAsync({ do: 'loop', loop: { from: ms, to: loop.to } }) : undefined;
        }}
      />
      <TypedField
        label="to"
        value={words(loop?.to)}
        placeholder="no loop"
        commit={(text) =>
          act.mutateAsync({ do: 'loop', loop: { from: loop?.from ?? from ?? 0, to: at(text) } })
        }
      />
      {loop && (
        <Button className="mt-1" onClick={() => act.mutate({ do: 'loop', loop: null })}>
          Switch the loop off
        </Button>
      )}
    </Pop>
  );
}
