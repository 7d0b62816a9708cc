/**
 * Channels in files for people count from 1 to 16, as they are shown. Inside the program they count from 0 to 15, as MIDI sends them. Files of
 * version 1 counted from 0.
 */

/** The members of a show that hold channels: one, a range, a list, or the moves of a route. */
const MEMBERS: ReadonlySet<string> = new Set(['channel', 'channels']);
/** Deeper than anything in a show. What is nested deeper stays as it is, and the schemas refuse it. */
const DEEPEST = 32;

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Adds `by` to every number. */
function moved(value: unknown, by: number, depth: number): unknown {
  if (typeof value === 'number') return value + by;
  if (depth > DEEPEST) return value;
  if (Array.isArray(value)) return value.map((one) => moved(one, by, depth + 1));
  if (!isRecord(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, moved(one, by, depth + 1)]));
}

/** Copies parsed JSON, and adds `by` to all channels in it. @param by 1 for a file that is written, -1 for one that is read */
export function shiftChannels(value: unknown, by: 1 | -1, depth = 0): unknown {
  if (depth > DEEPEST) return value;
  if (Array.isArray(value)) return value.map((one) => shiftChannels(one, by, depth + 1));
  if (!isRecord(value)) return value;
  const entries = Object.entries(value).map(([key, one]): [string, unknown] => [
    key,
    MEMBERS.has(key) ? moved(one, by, depth + 1) : shiftChannels(one, by, depth + 1),
  ]);
  return Object.fromEntries(entries);
}

/** Moves the limits of channels in a JSON schema of the program, so that it describes files. */
export function shiftSchema(schema: unknown, inside = false): unknown {
  if (Array.isArray(schema)) return schema.map((one) => shiftSchema(one, inside));
  if (!isRecord(schema)) return schema;
  const entries = Object.entries(schema).map(([key, one]): [string, unknown] => {
    if (inside && (key === 'minimum' || key === 'maximum')) return [key, (one as number) + 1];
    if (key !== 'properties') return [key, shiftSchema(one, inside)];
    const members = Object.entries(one as Record<string, unknown>).map(
      ([name, member]): [string, unknown] => [name, shiftSchema(member, inside || MEMBERS.has(name))],
    );
    return [key, Object.fromEntries(members)];
  });
  return Object.fromEntries(entries);
}
