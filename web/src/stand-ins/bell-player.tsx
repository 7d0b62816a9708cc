/** The bell player: six bells, rung by show control. */
import { useEffect, useRef } from 'react';
import { ReceivedList } from './received';
import { useStandIn, type Received } from './standing';

interface ShowMessage {
  device: number;
  format: number;
  command: number;
  cue: string;
  list: string;
}

interface BellState {
  device: number;
  rung: number[];
  ringing: boolean[];
  received: Received<ShowMessage>[];
  count: number;
  bad: number;
}

const SWING_MS = 900;

export function BellPicture() {
  const state = useStandIn<BellState>('bell-player');
  return (
    <svg
      viewBox="0 0 320 180"
      preserveAspectRatio="xMidYMid slice"
      role="img"
      aria-label={
        state
          ? `${state.ringing.filter(Boolean).length} of ${state.ringing.length} bells ringing`
          : 'No bells'
      }
      className="h-full w-full bg-[#0b0d10]"
    >
      <path d="M16 34H304M28 34V180M292 34V180" stroke="#4a4335" strokeWidth="4" fill="none" />
      {state?.ringing.map((ringing, at) => (
        <Bell key={at} at={at} ringing={ringing} rung={state.rung[at]!} />
      ))}
    </svg>
  );
}

/** Swings while it rings, harder each time it is rung anew. */
function Bell({ at, ringing, rung }: { at: number; ringing: boolean; rung: number }) {
  const bell = useRef<SVGGElement>(null);
  useEffect(() => {
    if (!ringing) return;
    const swing = bell.current?.animate(
      [{ transform: 'rotate(-18deg)' }, { transform: 'rotate(18deg)' }, { transform: 'rotate(-18deg)' }],
      { duration: SWING_MS, iterations: Infinity, easing: 'ease-in-out' },
    );
    return () => swing?.cancel();
  }, [ringing, rung]);
  const x = 60 + at * 40;
  const size = 1.25 - at * 0.09;
  return (
    <g data-bell={at + 1} data-rung={rung}>
      <g ref={bell} style={{ transformOrigin: `${x}px 34px` }}>
        <path
          d={`M${x} 34v16m${-14 * size} ${46 * size}c${8 * size} ${-10 * size} ${4 * size} ${-46 * size} ${14 * size} ${-46 * size}s${6 * size} ${36 * size} ${14 * size} ${46 * size}z`}
          fill={ringing ? '#dc9a4b' : '#5a5140'}
          stroke={ringing ? '#f2bd78' : '#6b614d'}
          strokeWidth="2"
        />
      </g>
      <text x={x} y="168" textAnchor="middle" fontSize="13" fill={ringing ? '#f2bd78' : '#857b68'}>
        {at + 1}
      </text>
    </g>
  );
}

export const bellWords = (state: BellState): string =>
  `Hears show control for sound, device ${state.device}: ${state.count} so far${state.bad ? `, ${state.bad} not understood` : ''}`;

const COMMANDS: Readonly<Record<number, string>> = {
  0x01: 'go',
  0x02: 'stop',
  0x03: 'resume',
  0x08: 'all off',
  0x0a: 'reset',
};

export function BellReceived({ state }: { state: BellState }) {
  return (
    <ReceivedList
      of="bell player"
      received={state.received}
      unknown="not for it, or not one of its bells"
      empty="Nothing yet. Press pad 6: it rings the fourth bell."
      words={({ device, format, command, cue, list }) => (
        <span>
          {COMMANDS[command] ?? `command ${command}`} {cue && `cue ${cue} `}
          {list && `list ${list} `}
          <span className="text-tawny">
            device {device}, format {format}
          </span>
        </span>
      )}
    />
  );
}
