/** Finds fields that a schema does not know. Schemas drop them silently, but whoever sent one has probably misspelt its name. */
import { BadInput } from './problems.js';

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** The most fields that are reported. */
const MOST = 20;

/**
 * Compares what was given with what a schema made of it. What the schema replaced by another kind of value is skipped.
 * @returns paths such as `sends.0.adress`, at most 20
 */
export function unknownFields(given: unknown, parsed: unknown, path = '', found: string[] = []): string[] {
  if (found.length >= MOST) return found;
  const at = (key: string | number): string => (path === '' ? String(key) : `${path}.${key}`);
  if (Array.isArray(given) && Array.isArray(parsed) && given.length === parsed.length)
    given.forEach((one, index) => unknownFields(one, parsed[index], at(index), found));
  else if (isRecord(given) && isRecord(parsed)) {
    for (const [key, value] of Object.entries(given)) {
      if (Object.hasOwn(parsed, key)) unknownFields(value, parsed[key], at(key), found);
      else if (value !== undefined && found.length < MOST) found.push(at(key));
    }
  }
  return found;
}

/** @param given to a schema. @param parsed what it made of it. @throws BadInput with each field that it does not know */
export function refuseUnknown(given: unknown, parsed: unknown): void {
  const unknown = unknownFields(given, parsed);
  if (unknown.length === 0) return;
  throw new BadInput(
    unknown.map((field) => ({
      field,
      message: `There is no field “${field}” here. Check its spelling, or leave it out.`,
    })),
  );
}
