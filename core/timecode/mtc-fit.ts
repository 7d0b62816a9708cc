/** Which frames of the day fit eight pieces of MIDI timecode that were told at different times (core/timecode/mtc). */
import { quarterFrameByte } from './mtc.js';
import { RATE_OF_CODE, RATES } from './frame-rate.js';
import { exists, frameOf, LEFT_OUT, partsOf } from './timecode.js';

/** Piece 7 has the rate in the bits above the last of the hours. */
const codeOf = (nibbles: readonly number[]): number => (nibbles[7]! >> 1) & 3;

/** A value of a number, with what it carries into the number above it, for each piece. */
type Value = readonly [value: number, carries: readonly number[]];

/**
 * Returns every frame of the day that fits all pieces, and the code of the rate. A second begins between the pieces at most once, and the number of a frame
 * says for each piece whether that was before it was told or after: so no time that fits is left out, however the digits were torn apart.
 * @param nibbles the four bits of pieces 0 to 7
 * @param framesAgo for each piece, how many frames its set is before the current one; below 0 where it is after it. They differ by less than a second
 */
export function framesThatFit(
  nibbles: readonly number[],
  framesAgo: readonly number[],
): { code: number; frames: Set<number> } {
  const code = codeOf(nibbles);
  const rate = RATE_OF_CODE[code]!;
  const { base, drop } = RATES[rate];
  const fits = (frame: number): boolean =>
    nibbles.every(
      (nibble, piece) =>
        (quarterFrameByte(piece, partsOf(frame - framesAgo[piece]!, rate), rate) & 0x0f) === nibble,
    );
  /** The values from `first` on and below `end` that two pieces can say, the lower one of which is `piece`. */
  const values = (piece: number, first: number, end: number, carried: readonly number[]): Value[] => {
    const carry = (sum: number): number => (sum < first ? -1 : sum >= end ? 1 : 0);
    const said = (sum: number): number => sum - carry(sum) * (end - first);
    const low = nibbles[piece]!;
    const high = nibbles[piece + 1]! & (piece === 6 ? 1 : 0xf);
    const byLow = carried[piece]!;
    const byHigh = carried[piece + 1]!;
    const found: Value[] = [];
    for (let value = first; value < end; value++)
      if ((said(value + byLow) & 0x0f) === low && said(value + byHigh) >> 4 === high)
        found.push([value, carried.map((by) => carry(value + by))]);
    return found;
  };
  const found = new Set<number>();
  const ahead = framesAgo.map((ago) => -ago);
  // A minute of drop-frame may begin with frame 2.
  for (const first of drop ? [0, LEFT_OUT] : [0])
    for (const [frames, ofFrames] of values(0, first, base, ahead))
      for (const [seconds, ofSeconds] of values(2, 0, 60, ofFrames))
        for (const [minutes, ofMinutes] of values(4, 0, 60, ofSeconds))
          for (const [hours] of values(6, 0, 24, ofMinutes)) {
            const parts = { hours, minutes, seconds, frames };
            if (exists(parts, rate) && fits(frameOf(parts, rate))) found.add(frameOf(parts, rate));
          }
  return { code, frames: found };
}
