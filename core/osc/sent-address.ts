/**
 * An address, or a text, with places that are filled from what was heard.
 *
 * | written | filled with |
 * |---|---|
 * | `{number}` | the heard note's, controller's or slot's number |
 * | `{number+1}` `{number-36}` | the number, moved |
 * | `{channel}` | the channel, counted from 1 |
 * | `{1}` … `{9}` | of OSC: what stood in the first, second … part of the address that the pattern left open |
 */
import type { Typed } from '../typed/range.js';

type Part = string | { of: 'number' | 'channel'; plus: number } | { of: 'part'; at: number };

export interface FilledFrom {
  number: number;
  /** Counted from 0. */
  channel: number;
  parts: readonly string[];
}

export interface SentAddress {
  /** True if it contains no places, and is always the same. */
  fixed: boolean;
  /** A part that the pattern did not leave open is filled with nothing. */
  fill(from: FilledFrom): string;
}

const HINT =
  'Braces may hold {number}, {number+1}, {channel}, or {1} for the first open part of the address.';

function readPlace(text: string): Part | null {
  const part = /^([1-9])$/.exec(text);
  if (part) return { of: 'part', at: Number(part[1]) - 1 };
  const moved = /^(number|channel)(?:([+-])(\d{1,4}))?$/.exec(text);
  if (!moved) return null;
  const plus = Number(`${moved[2] ?? '+'}${moved[3] ?? 0}`);
  return { of: moved[1] as 'number' | 'channel', plus };
}

function filled(part: Part, { number, channel, parts }: FilledFrom): string {
  if (typeof part === 'string') return part;
  if (part.of === 'part') return parts[part.at] ?? '';
  return String((part.of === 'number' ? number : channel + 1) + part.plus);
}

export function readSentAddress(text: string): Typed<SentAddress> {
  const parts: Part[] = [];
  for (const piece of text.split(/(\{[^{}]*\})/)) {
    if (piece === '') continue;
    if (!/[{}]/.test(piece)) {
      parts.push(piece);
      continue;
    }
    const place = readPlace(piece.replace(/[{}\s]/g, ''));
    if (!place) return { ok: false, reason: `“${piece}” is no place. ${HINT}` };
    parts.push(place);
  }
  const fixed = parts.every((part) => typeof part === 'string');
  return {
    ok: true,
    value: { fixed, fill: fixed ? () => text : (from) => parts.map((part) => filled(part, from)).join('') },
  };
}
