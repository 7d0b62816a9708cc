/** The two eyes of a line: the left one shows input, the right one output. An open eye is filled, trouble is dashed. */
import type { LineState } from '@tawny-signal/core/live/messages';

export interface EyesProps {
  state: LineState['state'] | 'muted' | 'unknown';
  inLit: boolean;
  outLit: boolean;
}

function Eye({ lit, colour, dashed }: { lit: boolean; colour: string; dashed: boolean }) {
  return (
    <circle
      r="4.25"
      cy="6"
      fill={lit ? colour : 'none'}
      stroke={lit ? colour : dashed ? 'var(--brick)' : 'var(--ink-3)'}
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
        <Eye lit={inLit} colour="var(--dusk)" dashed={dashed} />
      </g>
      <g transform="translate(19 0)">
        <Eye lit={outLit} colour="var(--tawny)" dashed={dashed} />
      </g>
    </svg>
  );
}
