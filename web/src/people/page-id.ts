/** The name of this page, from being loaded until it is closed. Made without `randomUUID`, which pages have only when they are encrypted. */
export const PAGE_ID = [...crypto.getRandomValues(new Uint8Array(12))]
  .map((byte) => byte.toString(16).padStart(2, '0'))
  .join('');
