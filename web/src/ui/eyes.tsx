/** The two eyes of a line: the left one shows input, the right one output. Filled while something passes; a green ring while the line is open and quiet; dashed in trouble. */
import type { LineState } from '@tawny-signal/core/live/messages';

export interface EyesProps {
  state: LineState['state'] | 'muted' | 'unknown';
  inLit: boolean;
  outLit: boolean;
}

interface EyeProps {
  lit: boolean;
  colour: string;
  dashed: boolean;
  /** True if the line is open, so that a quiet line looks different from one of which nothing is known. */
  well: boolean;
}

function Eye({ lit, colour, dashed, well }: EyeProps) {
  return (
    <circle
      r="4.25"
      cy="6"
      fill={lit ? colour : 'none'}
      stroke={lit ? colour : dashed ? 'var(--brick)' : well ? 'var(--moss)' : 'var(--ink-3)'}
      strokeWidth="1.2"
      strokeDasharray={dashed ? '2.2 1.6' : undefined}
    />
  );
}

export function Eyes({ state, inLit, outLit }: EyesProps) {
  const dashed = state === 'trouble' || state === 'waiting';
  const faint = state === 'muted';
  return (
    <svg width="26" height="12" viewBox="0 0 26 12" aria-hidden className={faint ? 'opacity-45' : ''}>
      <g transform="translate(6 0)">
        <Eye lit={inLit} colour="var(--dusk)" dashed={dashed} well={state === 'open'} />
      </g>
      <g transform="translate(19 0)">
        <Eye lit={outLit} colour="var(--tawny)" dashed={dashed} well={state === 'open'} />
      </g>
    </svg>
  );
}
