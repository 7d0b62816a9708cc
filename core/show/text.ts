/** Schemas for text that people write. They refuse characters that no screen shows and no database stores. */
import { z } from 'zod';

/** Control characters, and halves of characters (surrogates that stand alone): general categories Cc and Cs of Unicode. */
const UNSEEN = /[\p{Cc}\p{Cs}]/u;
/** The same, except line breaks and tabs. */
const UNSEEN_IN_LINES = /(?![\n\t])[\p{Cc}\p{Cs}]/u;
const REFUSED = 'There is a character in it that can’t be seen. Delete it, or write the text anew.';

/** Text of one line, without spaces around it. @param tooLong the message if it has more than `most` characters */
export const line = (most: number, tooLong: string) =>
  z
    .string()
    .trim()
    .max(most, tooLong)
    .refine((text) => !UNSEEN.test(text), REFUSED);

/** Text of several lines. */
export const lines = (most: number, tooLong: string) =>
  z
    .string()
    .transform((text) => text.replace(/\r\n?/g, '\n'))
    .pipe(
      z
        .string()
        .trim()
        .max(most, tooLong)
        .refine((text) => !UNSEEN_IN_LINES.test(text), REFUSED),
    );

/** Text that is sent unchanged, with the spaces around it. */
export const words = (most: number, tooLong: string) =>
  z
    .string()
    .max(most, tooLong)
    .refine((text) => !UNSEEN_IN_LINES.test(text), REFUSED);

/** A name has at most so many characters, as `line` counts them. */
export const NAME_LENGTH = 60;

/** The beginning of a text, at most so long as `line` counts, without half of a character at its end. */
export const beginning = (text: string, most: number): string =>
  text
    .slice(0, most)
    .replace(/[\uD800-\uDBFF]$/, '')
    .trimEnd();

/** What can be kept of a text, at most so many characters of it: for names that are not refused but made fit. Characters are counted as people do, not halves of them. */
export function cutText(text: string, most: number): string {
  return [...text.replace(new RegExp(UNSEEN, 'gu'), '')].slice(0, most).join('').trim();
}
