/**
 * The two eyes of a line: the left one shows input, the right one output. Filled while something passes; a green ring while the direction is open and
 * quiet; half a ring if nothing has answered yet; dashed in trouble; a short dash for a direction that the line does not use.
 */
import type { Side } from '@tawny-signal/core/live/line-state';

export type EyeState = Side | 'unknown';

export interface EyesProps {
  sides: { in: EyeState; out: EyeState };
  muted: boolean;
  inLit: boolean;
  outLit: boolean;
}

const RADIUS = 4.25;
const HALF = Math.PI * RADIUS;

const STROKES: Record<Exclude<EyeState, 'none'>, string> = {
  open: 'var(--moss)',
  unproven: 'var(--straw)',
  waiting: 'var(--brick)',
  trouble: 'var(--brick)',
  unknown: 'var(--ink-3)',
};
const DASHES: Partial<Record<EyeState, string>> = {
  unproven: `${HALF} ${HALF}`,
  waiting: '2.2 1.6',
  trouble: '2.2 1.6',
};

interface EyeProps {
  lit: boolean;
  colour: string;
  state: EyeState;
}

function Eye({ lit, colour, state }: EyeProps) {
  if (state === 'none' && !lit) return <path d="M-2.5 6h5" stroke="var(--ink-3)" strokeWidth="1.2" />;
  return (
    <circle
      r={RADIUS}
      cy="6"
      fill={lit ? colour : 'none'}
      stroke={lit || state === 'none' ? colour : STROKES[state]}
      strokeWidth="1.2"
      strokeDasharray={DASHES[state]}
    />
  );
}

export function Eyes({ sides, muted, inLit, outLit }: EyesProps) {
  return (
    <svg width="26" height="12" viewBox="0 0 26 12" aria-hidden className={muted ? 'opacity-45' : ''}>
      <g transform="translate(6 0)">
        <Eye lit={inLit} colour="var(--dusk)" state={sides.in} />
      </g>
      <g transform="translate(19 0)">
        <Eye lit={outLit} colour="var(--tawny)" state={sides.out} />
      </g>
    </svg>
  );
}
