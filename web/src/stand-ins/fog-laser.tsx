/** The fog laser: a beam for each note that is held. */
import { noteName } from '@tawny-signal/core/midi/words';
import { useShow } from '../show/show';
import { ReceivedList } from './received';
import { useStandIn, type Received } from './standing';

interface Note {
  pressed: boolean;
  channel: number;
  number: number;
  velocity: number;
}

interface LaserState {
  channel: number;
  beams: { number: number; velocity: number }[];
  received: Received<Note>[];
  count: number;
  bad: number;
}

/** Where a note's beam points: the notes of an octave make a fan, the octave moves it. In degrees from straight up. */
const angleOf = (number: number): number => (number % 12) * 12 - 66 + (Math.floor(number / 12) % 3) * 4;

export function LaserPicture() {
  const beams = useStandIn<LaserState>('fog-laser')?.beams ?? [];
  return (
    <svg
      viewBox="0 0 320 180"
      preserveAspectRatio="xMidYMid slice"
      role="img"
      aria-label={`${beams.length} beams`}
      className="h-full w-full bg-[#0b0d10]"
    >
      {[30, 70, 110, 150].map((y, at) => (
        <ellipse key={y} cx={80 + at * 55} cy={y} rx="110" ry="16" fill="#8a97a0" opacity="0.06" />
      ))}
      {beams.map(({ number, velocity }) => (
        <g key={number} data-beam={number} transform={`rotate(${angleOf(number)} 160 176)`}>
          <path d="M160 176L148 -80H172Z" fill="#7fe3c0" opacity={0.1 + (0.25 * velocity) / 127} />
          <path d="M160 176V-80" stroke="#b9ffe6" strokeWidth={1 + velocity / 50} opacity="0.9" />
        </g>
      ))}
      <rect x="148" y="166" width="24" height="14" rx="2" fill="#3b362a" />
    </svg>
  );
}

export const laserWords = (state: LaserState): string =>
  `Hears notes on channel ${state.channel}: ${state.count} so far${state.bad ? `, ${state.bad} not understood` : ''}`;

export function LaserReceived({ state }: { state: LaserState }) {
  const { middleC } = useShow().settings;
  return (
    <ReceivedList
      of="fog laser"
      received={state.received}
      unknown={`not on channel ${state.channel}`}
      empty="Nothing yet. Hold pad 5: the beam is on while it is held."
      words={({ pressed, channel, number, velocity }) => (
        <span>
          note {number} ({noteName(number, middleC)}) ch {channel}{' '}
          <span className="text-tawny">{pressed ? `pressed, force ${velocity}` : 'released'}</span>
        </span>
      )}
    />
  );
}
