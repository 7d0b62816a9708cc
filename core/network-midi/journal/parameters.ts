/**
 * Parameters, registered or not, in the recovery journal: octets to fields and back (RFC 6295, appendix A.4). `single` is the S bit (A.1).
 */
import { flag, has, seven, type Coding, type OctetReader } from './octets.js';

/** A field that says whether it is from before the last reset of all controllers (X). */
export interface SinceReset {
  value: number;
  reset: boolean;
}

/** A parameter (A.4.2). */
export interface ParameterLog {
  single: boolean;
  registered: boolean;
  /** 0–16383. */
  number: number;
  /** Data entry, its first and second octet. Null for what is not told. */
  msb: SinceReset | null;
  lsb: SinceReset | null;
  /** Steps up less steps down: -16383–16383. */
  buttons: SinceReset | null;
  /** The same since all controllers were reset. */
  buttonsSince: number | null;
  /** How often it was chosen, modulo 128. */
  count: SinceReset | null;
  /** Whether its value, and its count, are told in this stream at all (V, T). */
  tellsValue: boolean;
  tellsCount: boolean;
}

/** Parameters (A.4). */
export interface ParameterChapter {
  single: boolean;
  /** A first octet of a number whose second has not come. */
  pending: { registered: boolean; msb: number } | null;
  /** Whether a parameter is chosen (E). */
  open: boolean;
  logs: ParameterLog[];
}

const NUMBERS = 1 << 14;

function readSinceReset(from: OctetReader): SinceReset {
  const octet = from.u8();
  return { value: seven(octet), reset: has(octet, 7) };
}

/** A count of 14 bits with its sign (G), and a bit beside it. */
function readButtons(from: OctetReader): SinceReset {
  const word = from.u16();
  const size = word % NUMBERS;
  return { value: word >> 15 === 1 && size > 0 ? -size : size, reset: ((word >> 14) & 1) === 1 };
}

function readParameterLog(
  from: OctetReader,
  number: (first: number) => [registered: boolean, number: number],
): ParameterLog {
  const first = from.u8();
  const [registered, whole] = number(seven(first));
  const contents = from.u8();
  return {
    single: has(first, 7),
    registered,
    number: whole,
    msb: has(contents, 7) ? readSinceReset(from) : null,
    lsb: has(contents, 6) ? readSinceReset(from) : null,
    buttons: has(contents, 5) ? readButtons(from) : null,
    buttonsSince: has(contents, 4) ? readButtons(from).value : null,
    count: has(contents, 3) ? readSinceReset(from) : null,
    tellsCount: has(contents, 2),
    tellsValue: has(contents, 1),
  };
}

const sinceReset = (field: SinceReset | null): number[] =>
  field ? [flag(field.reset, 7) | field.value] : [];

function buttonOctets(value: number, reset: boolean): number[] {
  const word = (value < 0 ? 0x8000 : 0) | (reset ? 0x4000 : 0) | Math.abs(value);
  return [word >> 8, word & 0xff];
}

function writeParameterLog(log: ParameterLog, isShort: boolean): number[] {
  const { single, registered, number, msb, lsb, buttons, buttonsSince, count, tellsValue, tellsCount } = log;
  return [
    flag(single, 7) | (number & 0x7f),
    ...(isShort ? [] : [flag(!registered, 7) | (number >> 7)]),
    flag(msb !== null, 7) |
      flag(lsb !== null, 6) |
      flag(buttons !== null, 5) |
      flag(buttonsSince !== null, 4) |
      flag(count !== null, 3) |
      flag(tellsCount, 2) |
      flag(tellsValue, 1),
    ...sinceReset(msb),
    ...sinceReset(lsb),
    ...(buttons ? buttonOctets(buttons.value, buttons.reset) : []),
    ...(buttonsSince === null ? [] : buttonOctets(buttonsSince, false)),
    ...sinceReset(count),
  ];
}

const LONGEST = 0x3ff;

export const parameters: Coding<ParameterChapter> = {
  read(from) {
    const header = from.u16();
    const chapter = from.element(header & LONGEST, 2);
    const at = (bit: number): boolean => ((header >> bit) & 1) === 1;
    const pendingOctet = at(14) ? chapter.u8() : null;
    const [allRegistered, noneRegistered, allLow] = [at(12), at(11), at(10)];
    const isShort = allLow && (allRegistered || noneRegistered);
    const logs: ParameterLog[] = [];
    while (chapter.left > 0)
      logs.push(
        readParameterLog(chapter, (low) => {
          if (isShort) return [allRegistered, low];
          const high = chapter.u8();
          return [!has(high, 7), (seven(high) << 7) | low];
        }),
      );
    return {
      single: at(15),
      pending: pendingOctet === null ? null : { registered: !has(pendingOctet, 7), msb: seven(pendingOctet) },
      open: at(13),
      logs,
    };
  },
  write({ single, pending, open, logs }) {
    const first = logs[0];
    const isShort =
      first !== undefined && logs.every((log) => log.number < 128 && log.registered === first.registered);
    const body = [
      ...(pending ? [flag(!pending.registered, 7) | pending.msb] : []),
      ...logs.flatMap((log) => writeParameterLog(log, isShort)),
    ];
    const length = body.length + 2;
    if (length > LONGEST) throw new RangeError(`parameters have ${LONGEST} octets at most: ${length}`);
    const flags =
      flag(single, 7) |
      flag(pending !== null, 6) |
      flag(open, 5) |
      flag(isShort && first.registered, 4) |
      flag(isShort && !first.registered, 3) |
      flag(isShort, 2);
    return [flags | (length >> 8), length & 0xff, ...body];
  },
};
