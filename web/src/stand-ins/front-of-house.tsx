/** The front-of-house machine: a row of houses along the quay. Each note that it plays over network MIDI lights a window; the faders are the tide at the wall. */
import { decodeSignals } from '@tawny-signal/core/bytes';
import { describeMidi } from '@tawny-signal/core/midi/words';
import { isMidi } from '@tawny-signal/core/signal';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import { HoldButton } from '../ui/hold-button';
import { TypedField } from '../ui/typed-field';
import { ReceivedList } from './received';
import { useStandIn, type Received } from './standing';
import { within } from './within';

const WAYS = {
  lose: { label: 'Lost', did: 'lost' },
  repeat: { label: 'Twice', did: 'twice' },
  delay: { label: 'Late by up to 60 ms', did: 'late' },
  reorder: { label: 'Overtaken by the next', did: 'overtaken' },
} as const;
type Way = keyof typeof WAYS;
const WAY_NAMES = Object.keys(WAYS) as Way[];

interface HouseState {
  port: number;
  caller: string | null;
  notes: { channel: number; number: number; velocity: number }[];
  faders: { channel: number; number: number; value: number }[];
  packets: number;
  lost: number;
  madeGood: number;
  passedOver: number;
  percent: Record<Way, number>;
  met: Record<Way, number>;
  received: Received<{ bytes: number[] }>[];
  bad: number;
  trouble: string;
}

/** A house for each note of the octave, a floor for each octave. */
const HOUSES = 12;
const FLOORS = 11;
const [HOUSE_WIDTH, FLOOR_HEIGHT, ROOF] = [26, 13, 12];
const WALL = FLOORS * FLOOR_HEIGHT;
const NOTES = 128;
const windowOf = (number: number): { x: number; y: number; width: number; height: number; rx: number } => ({
  x: 11 + (number % HOUSES) * HOUSE_WIDTH,
  y: ROOF + WALL - 10 - Math.floor(number / HOUSES) * FLOOR_HEIGHT,
  width: 11,
  height: 8,
  rx: 1,
});
/** Faders that are drawn. */
const GAUGES = 24;

export function HousePicture() {
  const state = useStandIn<HouseState>('front-of-house');
  const notes = state?.notes ?? [];
  const faders = state?.faders.slice(0, GAUGES) ?? [];
  return (
    <svg
      viewBox="0 0 320 180"
      preserveAspectRatio="xMidYMid meet"
      role="img"
      aria-label={`${notes.length} windows are lit`}
      className="h-full w-full bg-[#141821]"
    >
      {Array.from({ length: HOUSES }, (_, house) => (
        <path
          key={house}
          d={`M${4 + house * HOUSE_WIDTH} ${ROOF + WALL}V${ROOF}l12.5 -${house % 2 ? 9 : 6}l12.5 ${house % 2 ? 9 : 6}V${ROOF + WALL}Z`}
          fill={house % 2 ? '#232a38' : '#1d2330'}
        />
      ))}
      {Array.from({ length: NOTES }, (_, number) => (
        <rect key={number} {...windowOf(number)} fill="#2e3749" />
      ))}
      {notes.map(({ channel, number, velocity }) => (
        <rect
          key={`${channel}-${number}`}
          data-window={number}
          {...windowOf(number)}
          fill="#ffce85"
          opacity={0.35 + (0.65 * velocity) / 127}
        />
      ))}
      <rect y={ROOF + WALL} width="320" height="25" fill="#0c1016" />
      {faders.map(({ channel, number, value }, at) => (
        <rect
          key={`${channel}-${number}`}
          data-gauge={`${number} ${value}`}
          x={6 + at * 13}
          y={178 - (20 * value) / 127}
          width="8"
          height={1 + (20 * value) / 127}
          fill="#6fa3b8"
        />
      ))}
    </svg>
  );
}

export function houseWords({ caller, port, trouble, packets, lost, madeGood, bad }: HouseState): string {
  if (trouble) return trouble;
  if (caller === null) return `Waits for a session to call it at port ${port}.`;
  const spoilt = bad > 0 ? ` ${bad} not understood.` : '';
  return `Connected with “${caller}”. ${packets} packets came, ${lost} were missing; ${madeGood} notes and faders were made good from the journal.${spoilt}`;
}

const FIRST_KEY = 60;
const KEYS = 4;

export function HouseReceived({ state }: { state: HouseState }) {
  const { connection } = useLive();
  const { middleC } = useShow().settings;
  const ask = (wish: object): void => connection.askStandIn('front-of-house', wish);
  return (
    <>
      <h3 className="pt-3 text-sm font-semibold">A bad network on the way to it</h3>
      <div className="grid gap-x-6 sm:grid-cols-2">
        {WAY_NAMES.map((way) => (
          <TypedField
            key={way}
            label={WAYS[way].label}
            value={`${state.percent[way]} %`}
            hint={`${state.met[way]} packets so far were ${WAYS[way].did}.`}
            commit={(text) =>
              ask({ do: 'air', way, percent: within(text, 0, 100, 'Write 0 to 100 percent.') })
            }
          />
        ))}
      </div>
      <h3 className="pt-3 text-sm font-semibold">It plays back to the show</h3>
      <p className="flex flex-wrap gap-2 py-1">
        {Array.from({ length: KEYS }, (_, at) => (
          <HoldButton
            needs="operator"
            key={at}
            press={(down) => ask({ do: 'play', number: FIRST_KEY + at, velocity: down ? 100 : 0 })}
          >
            Note {FIRST_KEY + at}
          </HoldButton>
        ))}
      </p>
      <ReceivedList
        of="front-of-house machine"
        received={state.received}
        unknown=""
        empty="Nothing yet. Play the score: a route takes it here."
        words={({ bytes }) => {
          const [signal] = decodeSignals('midi', Uint8Array.from(bytes));
          return <span>{signal && isMidi(signal) ? describeMidi(signal, middleC) : bytes.join(' ')}</span>;
        }}
      />
    </>
  );
}
