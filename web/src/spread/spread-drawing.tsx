/**
 * A spread as it will be: the controls above, their targets below, one under the other. Notes are drawn as the keys of a piano, slots as bars,
 * controllers as faders. A line marks where the targets go on at the next channel.
 */
import type { ReactNode } from 'react';
import { noteName, type MiddleC } from '@tawny-signal/core/midi/words';
import { useIsPhone } from '../ui/use-media';
import {
  changeovers,
  type SpreadFrom,
  type SpreadRow,
  type SpreadTo,
} from '@tawny-signal/core/spread/spread';

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

type Sort = SpreadFrom['sort'] | SpreadTo['sort'];

interface Cell {
  sort: Sort;
  number: number;
  words: string;
}

const WORDS: Partial<Record<Sort, string>> = { slots: 'slot', controls: 'CC' };

function heardCell({ sort, numbers }: SpreadFrom, at: number, middleC: MiddleC): Cell {
  const number = numbers[0] + at;
  return { sort, number, words: sort === 'notes' ? noteName(number, middleC) : `${WORDS[sort]} ${number}` };
}

function sentCell({ sort }: SpreadTo, { mapping, sent }: SpreadRow, middleC: MiddleC): Cell {
  const [send] = mapping.sends;
  const number = send && 'number' in send ? send.number : 0;
  return { sort, number, words: sort === 'notes' ? noteName(number, middleC) : sent };
}

interface SpreadDrawingProps {
  rows: readonly SpreadRow[];
  from: SpreadFrom;
  to: SpreadTo;
  middleC: MiddleC;
}

export function SpreadDrawing({ rows, from, to, middleC }: SpreadDrawingProps) {
  const whole = useIsPhone() ? PHONE_WIDTH : WIDTH;
  const width = Math.min(WIDEST, whole / Math.max(1, rows.length));
  const all = rows.map((row, at) => ({
    x: at * width,
    above: heardCell(from, at, middleC),
    below: sentCell(to, row, middleC),
    title: [`${row.heard} → ${row.sent}`, ...row.collides].join('; '),
    clashes: row.collides.length > 0,
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
    case 'notes': {
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
    case 'slots':
      return <rect {...box} y={y + ROW * 0.3} height={ROW * 0.7} fill={colour} fillOpacity={0.6} />;
    case 'controls':
      return (
        <>
          <line x1={x + width / 2} x2={x + width / 2} y1={y} y2={y + ROW} stroke={colour} strokeWidth="1" />
          <rect {...box} y={y + ROW * 0.3} height={7} fill={colour} />
        </>
      );
    case 'keys':
    case 'osc':
      return (
        <>
          <rect {...box} height={ROW} rx={width > 12 ? 3 : 0} fill="none" stroke={colour} />
          {width >= 22 && (
            <text x={x + width / 2} y={y + ROW / 2 + 4} textAnchor="middle" fill="var(--ink)">
              {(cell.sort === 'keys'
                ? cell.words.replace(/^key /, '')
                : (/\d+(?=\D*$)/.exec(cell.words)?.[0] ?? '')
              ).slice(0, 4)}
            </text>
          )}
        </>
      );
  }
}
