/** The lantern rig: lamps along the pier, washers on the deck, strobes and the lantern, as the levels light them. */
import { useStandIn } from './standing';

interface RigState {
  sacnPort: number;
  artnetPort: number;
  has: {
    house: { from: number; count: number };
    washers: { from: number; count: number };
    strobes: { from: number; count: number };
    lantern: number;
    lens: number;
  };
  protocol: string | null;
  universe: number | null;
  source: string;
  priority: number | null;
  levels: number[];
  frames: number;
  framesPerSecond: number;
  missed: number;
  bad: number;
  silent: boolean;
  trouble: string;
}

const times = (count: number): number[] => Array.from({ length: count }, (_, at) => at);
const WARM = '#ffd9a0';
const DECK_Y = 118;

export function RigPicture() {
  const state = useStandIn<RigState>('lantern-rig');
  const level = (slot: number): number => (state?.levels[slot - 1] ?? 0) / 255;
  const lantern = state ? level(state.has.lantern) : 0;
  const turned = state ? level(state.has.lens) * 360 : 0;
  return (
    <svg
      viewBox="0 0 320 180"
      preserveAspectRatio="xMidYMid slice"
      role="img"
      aria-label={state ? `Lantern at ${Math.round(lantern * 100)} percent` : 'Dark'}
      className="h-full w-full bg-[#0b0d10]"
    >
      <path d={`M0 ${DECK_Y}H262`} stroke="#4a4335" strokeWidth="4" />
      {times(11).map((at) => (
        <path key={at} d={`M${12 + at * 24} ${DECK_Y}V180`} stroke="#2c281f" strokeWidth="3" />
      ))}
      <path d="M276 180V66M268 66h16M264 180l12-60 12 60" stroke="#4a4335" strokeWidth="3" fill="none" />
      {state && (
        <>
          {times(state.has.washers.count).map((at) => {
            const from = state.has.washers.from + at * 3;
            const [red, green, blue] = [0, 1, 2].map((c) => Math.round(level(from + c) * 255));
            return (
              <path
                key={at}
                d={`M${18 + at * 31} ${DECK_Y}l-16 52h40l-16 -52z`}
                fill={`rgb(${red} ${green} ${blue})`}
                style={{ mixBlendMode: 'screen' }}
              />
            );
          })}
          {times(state.has.house.count).map((at) => (
            <g key={at} data-lamp={at + 1} opacity={0.12 + 0.88 * level(state.has.house.from + at)}>
              <circle cx={14 + at * 21} cy={DECK_Y - 26} r="4" fill={WARM} />
              <path
                d={`M${14 + at * 21} ${DECK_Y - 22}l-9 22h18z`}
                fill={WARM}
                opacity={0.5 * level(state.has.house.from + at)}
              />
            </g>
          ))}
          {times(state.has.strobes.count).map((at) => (
            <rect
              key={at}
              x={24 + at * 62}
              y={DECK_Y - 60}
              width="26"
              height="8"
              fill="#eef4ff"
              opacity={0.08 + 0.92 * level(state.has.strobes.from + at)}
            />
          ))}
          <circle cx="276" cy="54" r={12 + 60 * lantern} fill="#ffcf82" opacity={0.22 * lantern} />
          <circle cx="276" cy="54" r={10 + 22 * lantern} fill="#ffcf82" opacity={0.3 * lantern} />
          <path
            data-lens={Math.round(turned)}
            d="M276 54l-78 -14v28z"
            transform={`rotate(${turned} 276 54)`}
            fill="#ffcf82"
            opacity={0.1 + 0.35 * lantern}
          />
          <rect x="268" y="44" width="16" height="20" rx="2" fill={WARM} opacity={0.12 + 0.88 * lantern} />
        </>
      )}
    </svg>
  );
}

export function rigWords(state: RigState): string {
  if (state.trouble) return state.trouble;
  const ports = `sACN on UDP port ${state.sacnPort} and Art-Net on ${state.artnetPort}`;
  if (state.protocol === null) return `Listens for ${ports}. Nothing yet: move fader 3, or the deck desk.`;
  const from = `${state.protocol} universe ${state.universe} from ${state.source}`;
  const rate = state.silent ? 'stopped sending' : `${state.framesPerSecond} frames a second`;
  return `${from}${state.priority === null ? '' : `, priority ${state.priority}`}: ${rate}, ${state.frames} in all, ${state.missed} missed${state.bad ? `, ${state.bad} not understood` : ''}`;
}

/** The levels that are not zero. */
export function RigReceived({ state }: { state: RigState }) {
  const lit = state.levels.flatMap((level, at) => (level > 0 ? [{ slot: at + 1, level }] : []));
  return (
    <>
      <h3 className="pt-3 text-sm font-semibold">Slots that are up</h3>
      <ul
        aria-label="Slots of the lantern rig"
        className="flex flex-wrap gap-x-4 gap-y-1 pt-1 font-mono text-xs"
      >
        {lit.map(({ slot, level }) => (
          <li key={slot} data-slot={slot} data-level={level}>
            {slot} <span className="text-tawny">{level}</span>
          </li>
        ))}
      </ul>
      {lit.length === 0 && <p className="text-sm text-ink-2">All at 0.</p>}
    </>
  );
}
