/** Browsers give MIDI, sound and the clipboard only to a secure page: one that is encrypted, or of this machine. */
export const NOT_SECURE =
  'This page is not encrypted, and browsers give MIDI and sound only to one that is. Start with --tls, or switch encryption on under Network and people; then open the https address.';

/** @param otherwise the words where the page is secure, and the browser has no such thing */
export const unsupportedWords = (otherwise: string): string => (isSecureContext ? otherwise : NOT_SECURE);
