/** The fields of a line of a browser's sound: its device, its channel, how loud it plays, and how loud it hears. */
import { useEffect, useRef } from 'react';
import { readNumber, readWhole } from '@tawny-signal/core/typed/range';
import { useLive, useSound } from '../live/live';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import type { SoundLine } from './deck';
import type { SoundSeen } from './sound';

const WORDS: Record<SoundSeen['state'], string> = {
  unsupported: 'This page has no sound: open it on the machine itself, or over a secure connection.',
  off: 'Switch it on in the browser whose sound card has the timecode. The browser will ask you to allow its microphone.',
  asking: 'The browser is asking: allow the microphone, near the address bar.',
  refused:
    'The microphone is not allowed for this page. Allow it in the page’s settings, beside the address, then switch it on again.',
  open: 'It stays on when this page is opened again in this browser.',
};

interface FieldsProps {
  line: SoundLine;
  save: (change: Partial<SoundLine>) => Promise<unknown>;
}

export function SoundFields({ line, save }: FieldsProps) {
  const { sound } = useLive();
  const { state, devices, lines } = useSound();
  const names = devices.map(({ name }) => name);
  const isOn = state === 'open' || state === 'asking';
  return (
    <>
      <div className="py-1.5 sm:pl-24">
        <Switch
          label="Sound of this browser"
          on={isOn}
          change={(on) => (on ? void sound.switchOn() : sound.switchOff())}
        />
        <p
          className={`pt-1 text-xs ${state === 'refused' || state === 'unsupported' ? 'text-brick' : 'text-ink-2'}`}
        >
          {WORDS[state]}
        </p>
      </div>
      {state === 'open' ? (
        <Choice
          label="Device"
          value={line.port}
          options={[...new Set([line.port, ...names])].map((name) => ({
            value: name,
            words: names.includes(name) ? name : `${name} (not here)`,
          }))}
          choose={(port) => save({ port })}
        />
      ) : (
        <TypedField label="Device" value={line.port} commit={(port) => save({ port })} />
      )}
      <TypedField
        label="Channel"
        value={String(line.channel + 1)}
        hint="The channel that is listened to. Timecode is played on all of them."
        commit={(text) => save({ channel: orThrow(readWhole(text, 'A channel', 1, 32)) - 1 })}
      />
      <TypedField
        label="Plays at"
        value={`${line.levelDb} dB`}
        hint="How loud timecode is sent, below full scale."
        commit={(text) =>
          save({ levelDb: orThrow(readNumber(text.replace(/\s*dB\s*$/i, ''), 'A level in dB')) })
        }
      />
      {lines[line.id] === 'refused' && (
        <p className="py-1 text-sm text-brick sm:pl-24">
          The device can’t be opened: another program may use it. Close it there, then switch the sound off
          and on.
        </p>
      )}
      {lines[line.id] === 'open' && <LevelMeter lineId={line.id} />}
    </>
  );
}

const FLOOR_DB = -60;
const toDb = (peak: number): number => (peak > 0 ? 20 * Math.log10(peak) : -Infinity);

/** Drawn by hand: the level moves ten times a second. */
function LevelMeter({ lineId }: { lineId: string }) {
  const { sound } = useLive();
  const bar = useRef<HTMLSpanElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const timer = setInterval(() => {
      const level = sound.level(lineId);
      const db = toDb(level?.peak ?? 0);
      if (bar.current) {
        bar.current.style.width = `${Math.max(0, Math.min(1, 1 - db / FLOOR_DB)) * 100}%`;
        bar.current.style.background = level?.clips ? 'var(--brick)' : 'var(--moss)';
      }
      if (text.current)
        text.current.textContent =
          db < FLOOR_DB
            ? 'silent'
            : level!.clips
              ? 'too loud: turn it down at the source'
              : `${db.toFixed(0)} dB`;
    }, 100);
    return () => clearInterval(timer);
  }, [sound, lineId]);
  return (
    <div className="flex items-center gap-3 py-1.5 text-sm">
      <span className="w-21 shrink-0 text-ink-2">Hears</span>
      <span className="h-2.5 min-w-0 flex-1 overflow-hidden rounded-sm bg-bark-2">
        <span ref={bar} className="block h-full w-0" />
      </span>
      <span ref={text} data-sound-level className="w-24 shrink-0 font-mono text-xs text-ink-2" />
    </div>
  );
}
