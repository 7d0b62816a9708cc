import { cutText } from '@tawny-signal/core/show/text';
import { Play, Square, Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { useLive, useLiveValue } from '../live/live';
import { call } from '../show/api';
import { Button } from '../ui/button';
import { TypedField } from '../ui/typed-field';

interface ScoreState {
  file: string;
  playing: boolean;
  tempo: number;
  fileTempo: number;
  positionMs: number;
  durationMs: number;
  messages: number;
}

const secondsWords = (ms: number): string => `${(ms / 1000).toFixed(1)} s`;

function readTempo(text: string): number {
  const tempo = Number(
    text
      .replace(/beats.*$/, '')
      .trim()
      .replace(',', '.'),
  );
  if (!(tempo >= 20 && tempo <= 400)) throw new Error('A tempo is a number from 20 to 400 beats a minute.');
  return tempo;
}

export function ScorePlayer() {
  const { connection } = useLive();
  const state = useLiveValue('standIns', (store) => store.standIn('score-player')) as ScoreState | null;
  const ask = (wish: object): void => connection.askStandIn('score-player', wish);
  return (
    <section aria-label="Score player">
      <h2 className="font-semibold">Score player</h2>
      {state ? (
        <>
          <p className="pb-2 text-xs text-ink-2">
            {state.file} · {state.messages} messages, {secondsWords(state.durationMs)}
          </p>
          <div className="flex items-center gap-3 pb-1.5">
            {state.playing ? (
              <Button needs="operator" onClick={() => ask({ do: 'stop' })}>
                <Square size={14} aria-hidden /> Stop
              </Button>
            ) : (
              <Button needs="operator" look="main" onClick={() => ask({ do: 'start' })}>
                <Play size={14} aria-hidden /> Start
              </Button>
            )}
            <Progress state={state} />
          </div>
          <TypedField
            label="Tempo"
            value={`${Number(state.tempo.toFixed(1))} beats / min`}
            commit={(text) => ask({ do: 'tempo', tempo: readTempo(text) })}
          />
          <ScoreFile />
        </>
      ) : (
        <p className="text-sm text-brick">
          The score player is not running. It restarts automatically; wait a moment.
        </p>
      )}
    </section>
  );
}

function Progress({ state }: { state: ScoreState }) {
  const place = state.durationMs === 0 ? 0 : (state.positionMs % state.durationMs) / state.durationMs;
  return (
    <div className="flex-1">
      <div className="h-1 bg-bark-2">
        <div className="h-1 origin-left bg-dusk" style={{ transform: `scaleX(${place})` }} />
      </div>
      <p className="pt-1 font-mono text-xs text-ink-2">
        {secondsWords(state.positionMs % Math.max(1, state.durationMs))}
      </p>
    </div>
  );
}

/** Another file to play; what is wrong with it is said here, and the one before it stays. */
function ScoreFile() {
  const input = useRef<HTMLInputElement>(null);
  const [error, setError] = useState<string | null>(null);
  async function load(file: File): Promise<void> {
    try {
      await call(
        'POST',
        `stand-ins/score-player/file?name=${encodeURIComponent(cutText(file.name, 120))}`,
        file,
      );
      setError(null);
    } catch (problem) {
      setError(problem instanceof Error ? problem.message : String(problem));
    }
  }
  return (
    <div className="pt-1">
      <input
        ref={input}
        type="file"
        accept=".mid,.midi,audio/midi"
        aria-label="MIDI file to play"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void load(file);
        }}
      />
      <Button needs="operator" onClick={() => input.current?.click()}>
        <Upload size={14} aria-hidden /> Play another MIDI file
      </Button>
      {error && (
        <p role="alert" className="pt-1 text-xs text-brick">
          {error} The previous file is still loaded.
        </p>
      )}
    </div>
  );
}
