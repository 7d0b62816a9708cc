/** The tempo, visible on every page, to type or tap. */
import { readNumber } from '@tawny-signal/core/typed/range';
import { useTempo } from '../live/tempo';
import { useChangeSettings, useSetTempo, useShow, useTap } from '../show/show';
import { Button } from '../ui/button';
import { orThrow } from '../ui/or-throw';
import { NotOfTheShow } from '../ui/read-only';
import { Pop } from '../ui/pop';
import { TypedField } from '../ui/typed-field';

export function Tempo() {
  const opensWith = useShow().settings.tempo;
  const tempo = useTempo();
  const set = useSetTempo();
  const change = useChangeSettings();
  const tap = useTap();
  return (
    <Pop
      align="end"
      width="w-76"
      trigger={
        <button
          type="button"
          title="Type or tap the tempo"
          className="rounded px-2 py-1 text-right leading-none hover:bg-bark"
        >
          <span className="sr-only">Tempo: </span>
          <span className="block pb-1 font-mono text-base font-semibold">{tempo.toFixed(1)}</span>{' '}
          <span className="block text-xs text-ink-2">beats / min</span>
        </button>
      }
    >
      <NotOfTheShow needs="operator">
        <TypedField
          label="Tempo"
          value={tempo.toFixed(1)}
          hint="20 to 400 beats a minute."
          commit={(text) => set.mutateAsync(orThrow(readNumber(text, 'A tempo')))}
        />
      </NotOfTheShow>
      <Button
        needs="operator"
        className="mt-2 h-12 w-full justify-center!"
        onPointerDown={() => tap.mutate(undefined)}
        onKeyDown={(event) =>
          (event.key === ' ' || event.key === 'Enter') && !event.repeat && tap.mutate(undefined)
        }
      >
        Tap the beat
      </Button>
      <div className="flex items-center justify-between gap-2 pt-2 text-xs text-ink-2">
        <span>This show opens at {opensWith.toFixed(1)}.</span>
        {opensWith !== tempo && (
          <Button needs="edit" onClick={() => change.mutate({ tempo })}>
            Open at {tempo.toFixed(1)}
          </Button>
        )}
      </div>
      <p className="pt-2 text-xs text-ink-3">A pad can tap it too: a mapping that sends to “This show”.</p>
    </Pop>
  );
}
