/** How the show keeps its position: its frame rate, what a gap and a jump do. */
import type { TimecodeSettings } from '@tawny-signal/core/show/time';
import { readWhole } from '@tawny-signal/core/typed/range';
import { useChangeSettings } from '../show/show';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TimeField } from '../ui/time-field';
import { TypedField } from '../ui/typed-field';
import { RATE_OPTIONS } from './source-fields';

const LONGEST_MS = 10_000;

export function HowItIsKept({ settings }: { settings: TimecodeSettings }) {
  const { mutateAsync } = useChangeSettings();
  const save = (change: Partial<TimecodeSettings>): Promise<unknown> =>
    mutateAsync({ timecode: { ...settings, ...change } });
  return (
    <section aria-label="How the position is kept" className="pt-4">
      <h2 className="text-sm text-ink-2">How the position is kept</h2>
      <div className="grid gap-x-8 border-t border-rule pt-2 md:grid-cols-2 xl:grid-cols-3">
        <div>
          <Choice
            label="Frame rate"
            value={settings.frameRate}
            options={RATE_OPTIONS}
            choose={(frameRate) => save({ frameRate })}
            hint="Timecodes of the show are written in it."
          />
          <TypedField
            label="Locks after"
            value={`${settings.lockFrames} frames`}
            hint="So many good frames in a row, 1 to 60."
            commit={(text) =>
              save({
                lockFrames: orThrow(
                  readWhole(text.replace(/\s*frames?$/, ''), 'The number of frames', 1, 60),
                ),
              })
            }
          />
        </div>
        <div>
          <TimeField
            label="Rides through"
            ms={settings.rideMs}
            unit="ms"
            highMs={LONGEST_MS}
            hint="A gap of this length stops nothing."
            commit={(rideMs) => save({ rideMs })}
          />
          <Choice
            label="After that"
            value={settings.afterGap}
            options={[
              { value: 'hold' as const, words: 'It holds, and waits for the source' },
              { value: 'stop' as const, words: 'It stops' },
              { value: 'runOn' as const, words: 'It runs on by itself' },
            ]}
            choose={(afterGap) => save({ afterGap })}
          />
          <div className="sm:pl-24">
            <Switch
              label="Back to a preferred source"
              on={settings.goesBack}
              change={(goesBack) => void save({ goesBack }).catch(() => undefined)}
            />
          </div>
        </div>
        <div>
          <Choice
            label="After a jump"
            value={settings.afterJump}
            options={[
              { value: 'nothing' as const, words: 'Nothing is called' },
              { value: 'catchUp' as const, words: 'Every line catches up to there' },
              { value: 'callRunning' as const, words: 'The moment that would run is called' },
            ]}
            choose={(afterJump) => save({ afterJump })}
          />
          <TimeField
            label="Late by"
            ms={settings.lateMs}
            unit="ms"
            highMs={LONGEST_MS}
            hint="A moment that was due this long before a source was heard is called too."
            commit={(lateMs) => save({ lateMs })}
          />
        </div>
      </div>
    </section>
  );
}
