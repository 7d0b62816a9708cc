/** The page of a keyboard that shows the notes of a line, and since when they are held. */
import { useSearchParams } from 'react-router';
import { noteName } from '@tawny-signal/core/midi/words';
import { protocolOf } from '../lines/kinds';
import { useLiveValue } from '../live/live';
import { useShow } from '../show/show';
import { Ago } from '../ui/ago';
import { Empty, Page } from '../ui/page';
import { Select, type Option } from '../ui/select';
import { useCanvas } from '../ui/use-canvas';
import { paintKeyboard } from './keyboard-painter';
import { Tabs } from './tabs';
import { heldOf, useLitKeys, type Heard } from './use-lit-keys';

const WAYS: Option<Heard['way']>[] = [
  { value: 'in', words: 'What comes in' },
  { value: 'out', words: 'What goes out' },
];
const CHANNELS: Option<string>[] = [
  { value: 'any', words: 'Every channel' },
  ...Array.from({ length: 16 }, (_, at) => ({ value: String(at + 1), words: `Channel ${at + 1}` })),
];

export function KeyboardPage() {
  const { lines } = useShow();
  const [asked, ask] = useSearchParams();
  const midi = lines.filter((line) => protocolOf(line) === 'midi');
  const line = midi.find(({ id }) => id === asked.get('line')) ?? midi[0];
  const way = asked.get('way') === 'out' ? 'out' : 'in';
  const channel = asked.get('channel') ?? 'any';
  const set = (name: string, value: string): void =>
    ask((before) => new URLSearchParams([...[...before].filter(([key]) => key !== name), [name, value]]), {
      replace: true,
    });
  return (
    <Page
      editsShow={false}
      title="Traffic"
      aside={<Tabs at="Keyboard" />}
      actions={
        line && (
          <>
            <div className="w-40">
              <Select
                label="Line"
                value={line.id}
                options={midi.map(({ id, name }) => ({ value: id, words: name }))}
                choose={(id) => set('line', id)}
              />
            </div>
            <div className="w-40">
              <Select label="Direction" value={way} options={WAYS} choose={(next) => set('way', next)} />
            </div>
            <div className="w-40">
              <Select
                label="Channel"
                value={channel}
                options={CHANNELS}
                choose={(next) => set('channel', next)}
              />
            </div>
          </>
        )
      }
    >
      {line ? (
        <Keyboard
          key={`${line.id} ${way} ${channel}`}
          heard={{ lineId: line.id, way, channel: channel === 'any' ? null : Number(channel) - 1 }}
        />
      ) : (
        <Empty words="There is no MIDI line yet. Add one under Lines." />
      )}
    </Page>
  );
}

function Keyboard({ heard }: { heard: Heard }) {
  const { middleC } = useShow().settings;
  const litKeys = useLitKeys(heard);
  const tone = heard.way === 'in' ? 'dusk' : 'tawny';
  const canvas = useCanvas((brush) => paintKeyboard(brush, { lit: litKeys(brush.now), middleC, tone }));
  return (
    <section
      tabIndex={0}
      aria-label="What is down"
      className="min-h-0 flex-1 overflow-y-auto border-t border-rule pt-4"
    >
      <canvas ref={canvas} role="img" aria-label="Keyboard" className="h-48 w-full" />
      <p className="pt-1 text-xs text-ink-3">
        The fuller a key, the harder it was pressed. C{middleC} is note 60 in this show.
      </p>
      <HeldList heard={heard} />
    </section>
  );
}

function HeldList({ heard: { lineId, way, channel } }: { heard: Heard }) {
  const { middleC } = useShow().settings;
  const held = heldOf(useLiveValue('held', (store) => store.held(lineId), 50)[way], channel);
  return (
    <section className="pt-4">
      <h2 className="text-sm font-semibold">Held now</h2>
      {held.length === 0 && <p className="text-sm text-ink-2">Nothing is held.</p>}
      <ol aria-label="Notes held" className="font-mono text-sm">
        {held.map(({ channel: on, number, velocity, since }) => (
          <li
            key={`${on} ${number}`}
            className="grid grid-cols-[140px_80px_220px_1fr] items-center border-b border-rule py-1"
          >
            <b>
              note {number} ({noteName(number, middleC)})
            </b>
            <span>ch {on + 1}</span>
            <span className="flex items-center gap-2">
              force {velocity}
              <span className="h-1.5 w-24 bg-bark-2">
                <span
                  className={`block h-1.5 origin-left ${way === 'in' ? 'bg-dusk' : 'bg-tawny'}`}
                  style={{ transform: `scaleX(${velocity / 127})` }}
                />
              </span>
            </span>
            <span className="text-ink-2">
              for <Ago at={since} />
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
