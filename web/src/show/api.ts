/** Calls to the server, and its errors. */
import { askWho } from '../people/me';
import { PAGE_ID } from '../people/page-id';
import { ONLY_WATCHES, thisDesk } from './this-desk';

export interface FieldProblem {
  field: string;
  message: string;
}

/** A call that was refused, or could not reach the server. The message can be shown. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly fields: FieldProblem[],
  ) {
    super(message);
  }

  /** Returns the message for a field or anything inside it; null if there is none. */
  at(field: string): string | null {
    const meant = this.fields.find((one) => one.field === field || one.field.startsWith(`${field}.`));
    return meant?.message ?? null;
  }
}

/** The server could not be reached, so nobody knows whether it was done. */
export class Unreached extends Refused {}

async function read<T>(response: Response): Promise<T> {
  if (response.ok) {
    const text = await response.text();
    return (text === '' ? null : JSON.parse(text)) as T;
  }
  // The session has ended meanwhile: the page asks to sign in again.
  if (response.status === 401) void askWho();
  const problem = (await response.json().catch(() => ({}))) as { message?: string; fields?: FieldProblem[] };
  throw new Refused(problem.message ?? `The server said ${response.status}.`, problem.fields ?? []);
}

/** Calls that a browser that only watches may make. */
const ALWAYS = ['desk/panic', 'people/sign-out'];

export interface CallOptions {
  headers?: Record<string, string>;
  withinMs?: number;
  /** Ends a call that changes nothing. */
  signal?: AbortSignal;
}

/** @throws Refused, and nothing else */
export async function call<T>(
  method: 'GET' | 'POST' | 'PATCH' | 'PUT' | 'DELETE',
  path: string,
  body?: unknown,
  { headers = {}, withinMs, signal }: CallOptions = {},
): Promise<T> {
  const isFile = body instanceof Blob;
  const { name, watches } = thisDesk();
  if (watches && method !== 'GET' && !ALWAYS.includes(path)) throw new Refused(ONLY_WATCHES, []);
  const init: RequestInit = {
    method,
    headers: { 'X-Desk-Name': encodeURIComponent(name), 'X-Page': PAGE_ID, ...headers },
  };
  if (withinMs !== undefined) init.signal = AbortSignal.timeout(withinMs);
  if (signal) init.signal = signal;
  if (body !== undefined) {
    init.body = isFile ? body : JSON.stringify(body);
    init.headers = {
      ...init.headers,
      'Content-Type': isFile ? 'application/octet-stream' : 'application/json',
    };
  }
  const response = await fetch(`/api/${path}`, init).catch(() => null);
  if (signal?.aborted) throw new Refused('Stopped: nothing was read.', []);
  if (!response)
    throw new Unreached(
      'The server can’t be reached, so this was not saved. Try again when the connection is back.',
      [],
    );
  return read<T>(response);
}
