/** Numbers with what they count: `1 message`, `2 messages`, `12,000 mappings`. */

const SHOWN = new Intl.NumberFormat('en-GB');

/** @param one the word for one of them. @param many the word for several; the word with an s if it is left out */
export const count = (amount: number, one: string, many = `${one}s`): string =>
  `${SHOWN.format(amount)} ${amount === 1 ? one : many}`;
