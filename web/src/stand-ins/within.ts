/** A number that somebody typed for a stand-in, perhaps with its unit. */

/** @throws Error that says what may be written */
export function within(text: string, low: number, high: number, words: string): number {
  const value = Number(
    text
      .replace(/(%|ms)\s*$/, '')
      .replace(',', '.')
      .trim(),
  );
  if (text.trim() === '' || !(value >= low && value <= high)) throw new Error(words);
  return value;
}
