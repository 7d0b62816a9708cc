/** The quay stream: what those at home see, switched by keys. */
import { ReceivedList } from './received';
import { useStandIn, type Received } from './standing';

interface StreamKey {
  code: string;
  down: boolean;
}

interface StreamState {
  scenes: Record<string, string>;
  scene: string;
  pan: number;
  caption: string;
  down: string[];
  received: Received<StreamKey>[];
  count: number;
  bad: number;
}

/** What each scene looks at: the middle of the picture, and how near. */
const LOOKS: Readonly<Record<string, { x: number; y: number; zoom: number; sky: string }>> = {
  'Wide pier': { x: 160, y: 90, zoom: 1, sky: '#141a24' },
  'Lantern close': { x: 262, y: 60, zoom: 2.6, sky: '#1c1a1c' },
  'Over the water': { x: 90, y: 140, zoom: 1.6, sky: '#10202a' },
  Storm: { x: 160, y: 60, zoom: 1.3, sky: '#23232b' },
};

export function StreamPicture() {
  const state = useStandIn<StreamState>('quay-stream');
  const look = LOOKS[state?.scene ?? ''] ?? LOOKS['Wide pier']!;
  const x = look.x + (state?.pan ?? 0) * 60;
  return (
    <svg
      viewBox="0 0 320 180"
      preserveAspectRatio="xMidYMid slice"
      role="img"
      aria-label={state ? `Scene ${state.scene}` : 'Dark'}
      data-scene={state?.scene}
      data-pan={state?.pan.toFixed(3)}
      className="h-full w-full"
      style={{ background: look.sky }}
    >
      <g transform={`translate(160 90) scale(${look.zoom}) translate(${-x} ${-look.y})`}>
        <rect x="-200" y="120" width="800" height="200" fill="#173039" />
        {[132, 146, 164].map((y) => (
          <path
            key={y}
            d={`M-200 ${y}q20 -5 40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0`}
            fill="none"
            stroke="#2b5560"
          />
        ))}
        <path d="M-20 112H252" stroke="#6b614d" strokeWidth="5" />
        {Array.from({ length: 12 }, (_, at) => (
          <path key={at} d={`M${at * 22} 112V170`} stroke="#4a4335" strokeWidth="3" />
        ))}
        <path d="M262 150V74" stroke="#6b614d" strokeWidth="4" />
        <rect x="253" y="52" width="18" height="22" rx="2" fill="#f2bd78" />
        {state?.scene === 'Storm' && (
          <path d="M190 -20l-16 40h12l-18 44" fill="none" stroke="#eef4ff" strokeWidth="3" />
        )}
      </g>
      {state && (
        <>
          <rect x="0" y="152" width="320" height="28" fill="#000" opacity="0.55" />
          <text x="12" y="171" fontSize="14" fill="#f0e8d8" data-caption={state.caption}>
            {state.caption || state.scene}
          </text>
        </>
      )}
    </svg>
  );
}

export function streamWords(state: StreamState): string {
  const held = state.down.length > 0 ? ` Held now: ${state.down.join(', ')}.` : '';
  return `Controlled by keys: ${state.count} so far${state.bad ? `, ${state.bad} not understood` : ''}.${held}`;
}

export function StreamReceived({ state }: { state: StreamState }) {
  const scenes = Object.entries(state.scenes).map(([code, scene]) => `${code} ${scene}`);
  return (
    <ReceivedList
      of="quay stream"
      received={state.received}
      unknown="does nothing here"
      empty={`Nothing yet. Press pad 8, or hold pad 9. It knows ${scenes.join(', ')}, the arrows, letters, Backspace and Enter.`}
      words={({ code, down }) => (
        <span>
          {code} <span className="text-tawny">{down ? 'down' : 'up'}</span>
        </span>
      )}
    />
  );
}
