/** A timecode that somebody typed, at the frame rate of the show. */
import type { Show } from '@tawny-signal/core/show';
import { readTimecode, writeTimecode } from '@tawny-signal/core/timecode/timecode';
import { orThrow } from '../ui/or-throw';

/** @returns null for nothing. @throws Error that says which timecodes there are */
export function typedTimecode(text: string, { settings }: Pick<Show, 'settings'>): string | null {
  if (text.trim() === '') return null;
  const { frameRate } = settings.timecode;
  return writeTimecode(orThrow(readTimecode(text, frameRate)), frameRate);
}
