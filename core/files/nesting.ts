/** How deep JSON is nested, seen before it is parsed: reading and checking what is nested very deep takes long, and nothing of ours is. */

/** Deeper than any show: its rows are nested some ten deep. */
export const DEEPEST_JSON = 64;
export const TOO_DEEP = `This is nested more than ${DEEPEST_JSON} deep, which nothing of Tawny Signal is.`;

const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const OPENING = [0x5b, 0x7b];
const CLOSING = [0x5d, 0x7d];

/** Whether JSON has more brackets open at once than `most`. Looks at each character once, and reads no value. */
export function nestsDeeper(json: string | Uint8Array, most = DEEPEST_JSON): boolean {
  const at = typeof json === 'string' ? (i: number) => json.charCodeAt(i) : (i: number) => json[i]!;
  let depth = 0;
  let inText = false;
  for (let i = 0; i < json.length; i++) {
    const code = at(i);
    if (inText) {
      if (code === BACKSLASH) i++;
      else if (code === QUOTE) inText = false;
    } else if (code === QUOTE) inText = true;
    else if (OPENING.includes(code) && ++depth > most) return true;
    else if (CLOSING.includes(code)) depth--;
  }
  return false;
}
