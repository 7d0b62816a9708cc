/** How deep JSON is nested, seen before it is parsed: reading and checking what is nested very deep takes long, and nothing of ours is. */

/** Deeper than any show: its rows are nested some ten deep. */
export const DEEPEST_JSON = 64;
export const TOO_DEEP = `This is nested more than ${DEEPEST_JSON} deep, which nothing of Tawny Signal is.`;

const QUOTE = 0x22;
const BACKSLASH = 0x5c;
/** Of `[` and `{`, and of `]` and `}`: a bracket and a brace differ in this bit only. */
const BRACE = 0x20;
const OPENING = 0x5b | BRACE;
const CLOSING = 0x5d | BRACE;

/** Whether JSON has more brackets open at once than `most`. Looks at each character once, and reads no value. */
export function nestsDeeper(json: string | Uint8Array, most = DEEPEST_JSON): boolean {
  let depth = 0;
  let inText = false;
  for (let i = 0; i < json.length; i++) {
    const code = typeof json === 'string' ? json.charCodeAt(i) : json[i]!;
    if (inText) {
      if (code === BACKSLASH) i++;
      else if (code === QUOTE) inText = false;
    } else if (code === QUOTE) inText = true;
    else if ((code | BRACE) === OPENING) {
      if (++depth > most) return true;
    } else if ((code | BRACE) === CLOSING) depth--;
  }
  return false;
}
