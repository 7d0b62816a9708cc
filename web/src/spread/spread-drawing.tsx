/**
 * A spread as it will be: the controls above, their targets below, one under the other. Notes are drawn as the keys of a piano, slots as bars,
 * controllers as faders. A line marks where the targets go on at the next channel.
 */
import type { ReactNode } from 'react';
import { keyWords } from '@tawny-signal/core/keys/codes';
import { noteName, type MiddleC } from '@tawny-signal/core/midi/words';
import type { Hear } from '@tawny-signal/core/hears';
import type { Send } from '@tawny-signal/core/sends';
import { useIsPhone } from '../ui/use-media';
import { changeovers, type SpreadRow } from '@tawny-signal/core/spread/spread';

/** Units of the drawing: it is stretched to the width that there is. */
const WIDTH = 1000;
const PHONE_WIDTH = 360;
const ROW = 34;
const GAP = 22;
const TOP = 16;
const BELOW = 16;
const HEIGHT = TOP + ROW + GAP + ROW + BELOW;
const WIDEST = 40;
const IS_BLACK = [1, 3, 6, 8, 10];

interface Cell {
  sort: 'note' | 'slot' | 'fader' | 'key' | 'address';
  number: number;
  words: string;
}

function heardCell(hear: Hear, middleC: MiddleC): Cell {
  if (hear.message === 'slot')
    return {
      sort: 'slot',
      number: hear.slots === 'any' ? 1 : hear.slots[0],
      words: `slot ${String(hear.slots[0])}`,
    };
  const number = 'numbers' in hear && hear.numbers !== 'any' ? hear.numbers[0] : 0;
  return hear.message === 'control'
    ? { sort: 'fader', number, words: `CC ${number}` }
    : { sort: 'note', number, words: noteName(number, middleC) };
}

function sentCell(send: Send, middleC: MiddleC): Cell {
  switch (send.kind) {
    case 'note':
      return { sort: 'note', number: send.number, words: noteName(send.number, middleC) };
    case 'control':
      return { sort: 'fader', number: send.number, words: `CC ${send.number}` };
    case 'slot':
      return { sort: 'slot', number: send.slot, words: `slot ${send.slot}` };
    case 'key':
      return { sort: 'key', number: 0, words: keyWords(send.code) };
    default:
      return { sort: 'address', number: 0, words: send.kind === 'osc' ? send.address : send.kind };
  }
}

interface SpreadDrawingProps {
  rows: readonly SpreadRow[];
  middleC: MiddleC;
}

export function SpreadDrawing({ rows, middleC }: SpreadDrawingProps) {
  const whole = useIsPhone() ? PHONE_WIDTH : WIDTH;
  const width = Math.min(WIDEST, whole / Math.max(1, rows.length));
  const all = rows.map(({ mapping, heard, sent, collides }, at) => ({
    x: at * width,
    above: heardCell(mapping.hear, middleC),
    below: sentCell(mapping.sends[0]!, middleC),
    title: [`${heard} → ${sent}`, ...collides].join('; '),
    clashes: collides.length > 0,
  }));
  const first = all[0];
  const last = all.at(-1);
  if (!first || !last) return null;
  const bottom = TOP + ROW + GAP;
  const end = last.x + width;
  const turns = changeovers(rows);
  return (
    <svg
      viewBox={`0 0 ${whole} ${HEIGHT}`}
      role="img"
      aria-label={[
        `${first.above.words} to ${last.above.words}, spread over ${first.below.words} to ${last.below.words}`,
        ...turns.map(({ words }) => words),
      ].join('; ')}
      data-spread-drawing
      className="mt-2 w-full font-mono text-[11px]"
    >
      {all.map(({ x, above, below, title, clashes }, at) => (
        <g key={at}>
          <title>{title}</title>
          <Glyph cell={above} x={x} y={TOP} width={width} colour="var(--dusk)" />
          <line
            x1={x + width / 2}
            x2={x + width / 2}
            y1={TOP + ROW + 2}
            y2={bottom - 2}
            stroke={clashes ? 'var(--straw)' : 'var(--rule)'}
            strokeWidth={Math.min(1.5, width / 3)}
          />
          {clashes && width >= 8 && (
            <text x={x + width / 2} y={TOP + ROW + GAP / 2 + 4} textAnchor="middle" fill="var(--straw)">
              !
            </text>
          )}
          <Glyph cell={below} x={x} y={bottom} width={width} colour="var(--tawny)" />
        </g>
      ))}
      <Ends from={first.above.words} to={last.above.words} end={end} y={TOP - 4} one={all.length === 1} />
      <Ends from={first.below.words} to={last.below.words} end={end} y={HEIGHT - 3} one={all.length === 1} />
      {turns.map(({ at, words }) => (
        <g key={at}>
          <line
            x1={at * width}
            x2={at * width}
            y1={TOP - 2}
            y2={bottom + ROW + 2}
            stroke="var(--straw)"
            strokeWidth="2"
          />
          <text
            x={at * width + (at * width > whole * 0.7 ? -5 : 5)}
            y={TOP + ROW + GAP / 2 + 4}
            textAnchor={at * width > whole * 0.7 ? 'end' : 'start'}
            fill="var(--straw)"
          >
            {words}
          </text>
        </g>
      ))}
    </svg>
  );
}

interface EndsProps {
  from: string;
  to: string;
  /** Where the last cell ends. */
  end: number;
  y: number;
  /** True if there is one cell, which is both ends. */
  one: boolean;
}

function Ends({ from, to, end, y, one }: EndsProps) {
  return (
    <>
      <text x={0} y={y} fill="var(--ink-2)">
        {from}
      </text>
      {!one && (
        <text x={Math.max(end, 120)} y={y} textAnchor="end" fill="var(--ink-2)">
          {to}
        </text>
      )}
    </>
  );
}

interface GlyphProps {
  cell: Cell;
  x: number;
  y: number;
  width: number;
  colour: string;
}

function Glyph({ cell, x, y, width, colour }: GlyphProps): ReactNode {
  const inset = width > 6 ? 1 : 0;
  const box = { x: x + inset, y, width: Math.max(0.8, width - 2 * inset) };
  switch (cell.sort) {
    case 'note': {
      const black = IS_BLACK.includes(cell.number % 12);
      return (
        <rect
          {...box}
          height={black ? ROW * 0.62 : ROW}
          fill={black ? colour : 'none'}
          fillOpacity={0.75}
          stroke={colour}
          strokeWidth={width > 6 ? 1 : 0.5}
        />
      );
    }
    case 'slot':
      return <rect {...box} y={y + ROW * 0.3} height={ROW * 0.7} fill={colour} fillOpacity={0.6} />;
    case 'fader':
      return (
        <>
          <line x1={x + width / 2} x2={x + width / 2} y1={y} y2={y + ROW} stroke={colour} strokeWidth="1" />
          <rect {...box} y={y + ROW * 0.3} height={7} fill={colour} />
        </>
      );
    case 'key':
    case 'address':
      return (
        <>
          <rect {...box} height={ROW} rx={width > 12 ? 3 : 0} fill="none" stroke={colour} />
          {width >= 22 && (
            <text x={x + width / 2} y={y + ROW / 2 + 4} textAnchor="middle" fill="var(--ink)">
              {(cell.sort === 'key' ? cell.words : (/\d+(?=\D*$)/.exec(cell.words)?.[0] ?? '')).slice(0, 4)}
            </text>
          )}
        </>
      );
  }
}
