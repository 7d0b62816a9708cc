/**
 * What each act needs: the one table that HTTP, the live connection, what browsers carry, and the interface ask. What is not in it is refused, and a
 * test walks every route and every message.
 */
import type { z } from 'zod';
import type { CARRIED_KINDS, FromClient, orderActSchema } from '../live/messages.js';
import { TABLE_NAMES, TABLES } from '../show/tables.js';
import type { Need } from './roles.js';

type OrderAct = z.infer<typeof orderActSchema>;

/** The commands to the running order. */
export const ORDER_NEEDS: Readonly<Record<OrderAct['do'], Need>> = {
  go: 'caller',
  call: 'caller',
  hold: 'caller',
  resume: 'caller',
  stop: 'caller',
  stopAll: 'caller',
  back: 'caller',
  standBy: 'caller',
  jumpBack: 'caller',
  try: 'operator',
  tryNext: 'operator',
  trySend: 'operator',
};

/** The messages of the live connection. */
export const LIVE_NEEDS: Readonly<Record<FromClient['t'], Need>> = {
  clock: 'onlooker',
  here: 'onlooker',
  watchMotions: 'onlooker',
  ports: 'operator',
  try: 'operator',
  tryLine: 'operator',
  toStandIn: 'operator',
  standIn: 'standIn',
};

/** MIDI, keys and sound that a browser or a stand-in carries, by the kind of its port. */
export const CARRIED_NEEDS: Readonly<Record<(typeof CARRIED_KINDS)[number], Need>> = {
  'midi-browser': 'operator',
  'keys-browser': 'operator',
  'sound-browser': 'operator',
  'midi-inside': 'operator',
  'keys-inside': 'operator',
};

/** A route's need; or the least that any call of it needs, and how the need is found in what a call is given. */
type RouteNeed = Need | { least: Need; of: (body: unknown) => Need };

const memberOf = (body: unknown, name: string): unknown =>
  typeof body === 'object' && body !== null ? (body as Record<string, unknown>)[name] : undefined;

function orderNeed(body: unknown): Need {
  const act = memberOf(body, 'do');
  return typeof act === 'string' && Object.hasOwn(ORDER_NEEDS, act)
    ? ORDER_NEEDS[act as OrderAct['do']]
    : 'operator';
}

/** Banks are switched on the prompt desk; anything else about them is an edit. */
function bankNeed(body: unknown): Need {
  const members = typeof body === 'object' && body !== null ? Object.keys(body) : [];
  return members.length > 0 && members.every((name) => name === 'on' || name === 'act')
    ? 'caller'
    : 'operator';
}

const ROWS = Object.fromEntries(
  TABLE_NAMES.flatMap((table) => [
    [`POST /api/${TABLES[table].path}`, 'operator'],
    [`PATCH /api/${TABLES[table].path}/:id`, 'operator'],
    [`DELETE /api/${TABLES[table].path}/:id`, 'operator'],
  ]),
) as Record<string, RouteNeed>;

/** The routes of HTTP, by method and path as they are declared. */
export const HTTP_NEEDS: Readonly<Record<string, RouteNeed>> = {
  ...ROWS,
  'POST /api/time-sources/:id/move': 'operator',
  'POST /api/time-outputs/:id/move': 'operator',
  'PATCH /api/banks/:id': { least: 'caller', of: bankNeed },
  'POST /api/mappings/spread': 'operator',
  'POST /api/mappings/:id/copy': 'operator',
  'POST /api/mappings/:id/next': 'operator',
  'POST /api/mappings/:id/move': 'operator',
  'POST /api/routes/:id/restore': 'operator',
  'POST /api/moments/:id/copy': 'operator',
  'POST /api/moments/:id/move': 'operator',
  'POST /api/moments/paste': 'operator',
  'POST /api/moments/times': 'operator',
  'POST /api/moments/renumber': 'operator',

  'GET /api/show': 'onlooker',
  'PATCH /api/show/settings': 'operator',
  'GET /api/undo': 'onlooker',
  'POST /api/undo': 'operator',
  'POST /api/redo': 'operator',
  'GET /api/edits': 'onlooker',
  'GET /api/shows': 'onlooker',
  'POST /api/shows': 'operator',
  'POST /api/shows/:id/open': 'operator',
  'POST /api/shows/:id/copy': 'operator',
  'PATCH /api/shows/:id': 'operator',
  'GET /api/versions': 'onlooker',
  'POST /api/versions': 'operator',
  'GET /api/versions/:id/compare': 'onlooker',
  'POST /api/versions/:id/restore': 'operator',
  'POST /api/versions/:id/show': 'operator',
  'GET /api/versions/:id/file': 'onlooker',
  'PATCH /api/versions/:id': 'operator',
  'DELETE /api/versions/:id': 'operator',

  'GET /api/files/reading': 'onlooker',
  'GET /api/files/show': 'onlooker',
  'POST /api/files/show': 'operator',
  'GET /api/files/bank/:id': 'onlooker',
  'POST /api/files/bank': 'operator',
  'GET /api/files/layout/:id': 'onlooker',
  'POST /api/files/layout': 'operator',
  'GET /api/files/mappings.csv': 'onlooker',
  'POST /api/files/mappings.csv': 'operator',
  'GET /api/files/moments.csv': 'onlooker',
  'POST /api/files/moments.csv': 'operator',
  'GET /api/ltc/file': 'caller',

  'GET /api/log': 'onlooker',
  'GET /api/log/:id': 'onlooker',
  'GET /api/log/:id/table.csv': 'onlooker',
  'POST /api/log/begin': 'caller',
  'POST /api/log/end': 'caller',
  'DELETE /api/log/:id': 'operator',

  'GET /api/desk': 'onlooker',
  'GET /api/desk/order': 'onlooker',
  'GET /api/desk/levels/:lineId': 'onlooker',
  'GET /api/desk/why': 'onlooker',
  'POST /api/desk/order': { least: 'caller', of: orderNeed },
  'POST /api/desk/panic': 'caller',
  'PUT /api/desk/armed': 'operator',
  'PUT /api/desk/locked': 'operator',
  'PUT /api/desk/tempo': 'operator',
  'PUT /api/desk/tempo-source': 'operator',
  'POST /api/desk/tap': 'operator',
  'POST /api/desk/position': 'operator',
  'POST /api/desk/motions/:id': 'operator',
  'POST /api/desk/fail-engine': 'operator',
  'POST /api/stand-ins/score-player/file': 'operator',

  'GET /api/people/me': 'nobody',
  'GET /api/people/authority': 'nobody',
  'POST /api/people/sign-in': 'nobody',
  'POST /api/people/sign-out': 'nobody',
  'GET /api/people': 'operator',
  'POST /api/people': 'operator',
  'DELETE /api/people/:name': 'operator',
  'PUT /api/people/passphrases/:role': 'operator',
  'POST /api/people/codes': 'operator',
  'DELETE /api/people/sessions/:id': 'operator',
  'DELETE /api/people/sessions': 'operator',
  'PUT /api/people/opening': 'operator',
};

/** @returns what the route needs; null if it is not in the table, which refuses it. @param path as it is declared, like `/api/lines/:id` */
export function httpNeed(method: string, path: string, body: unknown): Need | null {
  const key = `${method} ${path}`;
  if (!Object.hasOwn(HTTP_NEEDS, key)) return null;
  const need = HTTP_NEEDS[key]!;
  return typeof need === 'object' ? need.of(body) : need;
}

/** The routes by method and number of parts, each as its parts. */
const ROUTES = new Map<string, { parts: readonly string[]; need: RouteNeed }[]>();
for (const [key, need] of Object.entries(HTTP_NEEDS)) {
  const [method, path] = key.split(' ') as [string, string];
  const parts = path.toLowerCase().split('/');
  const group = `${method} ${parts.length}`;
  ROUTES.set(group, [...(ROUTES.get(group) ?? []), { parts, need }]);
}

/** @returns the least that a call of this address needs, before its body is read; null if it is no route. @param path as it is called, like `/api/lines/rig` */
export function leastNeed(method: string, path: string): Need | null {
  const called = path.toLowerCase().replace(/\/$/, '').split('/');
  const route = ROUTES.get(`${method} ${called.length}`)?.find(({ parts }) =>
    parts.every((part, at) => part.startsWith(':') || part === called[at]),
  );
  if (!route) return null;
  return typeof route.need === 'object' ? route.need.least : route.need;
}
