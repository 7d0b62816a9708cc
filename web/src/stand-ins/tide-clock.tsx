/** The tide clock: plays timecode into the show, well or badly, and shows what it receives. */
import { Play, Square } from 'lucide-react';
import { useLive } from '../live/live';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { useStandIn } from './standing';
import { within } from './within';

interface TideState {
  playing: boolean;
  at: string;
  rate: string;
  speed: number;
  jitterMs: number;
  slow: boolean;
  drumming: boolean;
  bpm: number;
  /** The sound file that it wrote last. */
  reel: { path: string; error: string | null } | null;
  received: { at: string | null; rate: number | null; count: number; bpm: number | null };
}

const RATES = [
  { value: '24', words: '24 fps' },
  { value: '25', words: '25 fps' },
  { value: '29.97df', words: '29.97 fps, drop-frame' },
  { value: '30', words: '30 fps' },
];

function timecode(text: string): string {
  if (!/^([01]\d|2[0-3]):[0-5]\d:[0-5]\d[:;][0-5]\d$/.test(text.trim()))
    throw new Error('Write a timecode like 01:00:00:00.');
  return text.trim();
}

export function TideClock() {
  const { connection } = useLive();
  const state = useStandIn<TideState>('tide-clock');
  const ask = (wish: object): void => connection.askStandIn('tide-clock', wish);
  return (
    <section aria-label="Tide clock">
      <h2 className="font-semibold">Tide clock</h2>
      {state ? (
        <>
          <p className="pb-1 font-mono text-2xl tabular-nums" data-tide={state.playing}>
            {state.at}
          </p>
          <p className="pb-2 text-xs text-ink-2" data-tide-received={state.received.at ?? ''}>
            {state.received.at === null
              ? 'Receives no timecode'
              : `Receives ${state.received.at} at ${state.received.rate} fps`}
            {state.received.bpm === null
              ? ' and no clock.'
              : ` and ${state.received.bpm.toFixed(1)} beats a minute.`}
          </p>
          <div className="flex flex-wrap items-center gap-2 pb-1.5">
            {state.playing ? (
              <Button needs="operator" onClick={() => ask({ do: 'stop' })}>
                <Square size={14} aria-hidden /> Stop the tide clock
              </Button>
            ) : (
              <Button needs="operator" look="main" onClick={() => ask({ do: 'start' })}>
                <Play size={14} aria-hidden /> Start the tide clock
              </Button>
            )}
            <Button needs="operator" onClick={() => ask({ do: 'gap', ms: 400 })}>
              Drop out for 0.4 s
            </Button>
          </div>
          <TypedField
            label="Set to"
            value={state.playing ? '' : state.at}
            placeholder="01:00:00:00"
            commit={(text) => ask({ do: 'locate', to: timecode(text) })}
          />
          <Choice
            label="Sends"
            value={state.rate}
            options={RATES}
            choose={(rate) => ask({ do: 'rate', rate })}
          />
          <TypedField
            label="Tide speed"
            value={`${Math.round(state.speed * 100)} %`}
            commit={(text) =>
              ask({ do: 'speed', speed: within(text, 25, 400, 'A speed is 25 to 400 %.') / 100 })
            }
          />
          <div className="flex items-center gap-2 py-1">
            <Button needs="operator" onClick={() => ask({ do: 'drum', on: !state.drumming })}>
              {state.drumming ? 'Stop the MIDI clock' : 'Start the MIDI clock'}
            </Button>
          </div>
          <TypedField
            label="Clock tempo"
            value={String(state.bpm)}
            commit={(text) =>
              ask({ do: 'tempo', bpm: within(text, 20, 400, 'A tempo is 20 to 400 beats a minute.') })
            }
          />
          <TypedField
            label="Late by up to"
            value={`${state.jitterMs} ms`}
            commit={(text) => ask({ do: 'jitter', ms: within(text, 0, 50, 'It is late by 0 to 50 ms.') })}
          />
          <div className="flex flex-wrap items-center gap-2 py-1">
            <Button needs="operator" onClick={() => ask({ do: 'reel', gap: false })}>
              Write 20 s of sound
            </Button>
            <Button needs="operator" onClick={() => ask({ do: 'reel', gap: true })}>
              … with a gap
            </Button>
          </div>
          {state.reel && <ReelWords {...state.reel} />}
          <Switch
            label="A thousandth slower than it says"
            on={state.slow}
            change={(slow) => ask({ do: 'slow', slow })}
          />
        </>
      ) : (
        <p className="text-sm text-brick">
          The tide clock is not running. It restarts automatically; wait a moment.
        </p>
      )}
    </section>
  );
}

function ReelWords({ path, error }: NonNullable<TideState['reel']>) {
  if (error !== null)
    return <p className="pb-1 text-xs text-brick">The sound could not be written: {error}</p>;
  return (
    <p className="pb-1 text-xs break-all text-ink-2" data-reel>
      Linear timecode is in {path}: play it to a sound line, or read it under Time, LTC files.
    </p>
  );
}
