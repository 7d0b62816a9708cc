/** Names of the files that are downloaded: what is in them, and the day for those that change from day to day. */

const ENDINGS = {
  show: '.show.json',
  bank: '.bank.json',
  layout: '.layout.json',
  table: '.csv',
} as const;

const two = (number: number): string => String(number).padStart(2, '0');

/**
 * Makes a name that every file system accepts: `the-lantern-pier-2026-11-27.show.json`. A name without any such letter becomes the kind.
 * @param at the day that is written into it, as it is in this place; null for none
 */
export function fileNameOf(name: string, kind: keyof typeof ENDINGS, at: Date | null = null): string {
  const plain = name
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 100);
  const day = at ? [`${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`] : [];
  return `${[plain || kind, ...day].join('-')}${ENDINGS[kind]}`;
}
