/** The fields of a line of a browser's sound: its device, its channel, how loud it plays, and how loud it hears. */
import { useLive, useSound } from '../live/live';
import { Choice } from '../ui/choice';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import type { SoundLine } from './deck';
import { Level, toDb } from './level';
import type { SoundSeen } from './sound';
import { TimecodeFields } from './timecode-fields';
import { unsupportedWords } from '../ui/secure-page';

const WORDS: Record<SoundSeen['state'], string> = {
  unsupported: unsupportedWords(
    'This page has no sound: open it on the machine itself, or over a secure connection.',
  ),
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
      <TimecodeFields line={line} save={save} />
      {lines[line.id] === 'refused' && (
        <p className="py-1 text-sm text-brick sm:pl-24">
          The device can’t be opened: another program may use it. Close it there; it is tried again by itself.
        </p>
      )}
      {lines[line.id] === 'open' && <LevelMeter lineId={line.id} />}
    </>
  );
}

/** Drawn by hand: the level moves ten times a second. */
function LevelMeter({ lineId }: { lineId: string }) {
  const { sound } = useLive();
  return (
    <Level
      read={() => {
        const level = sound.level(lineId);
        return level ? { db: toDb(level.peak), clips: level.clips } : null;
      }}
    />
  );
}
