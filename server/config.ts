/** The configuration of the server, from its environment. */
import { z } from 'zod';

export const CONFIG = Symbol('config');

const port = z.int().min(1).max(65_535);
const demoPortsSchema = z.object({ water: port, rigSacn: port, rigArtnet: port, deck: port, house: port });
export type DemoPorts = z.infer<typeof demoPortsSchema>;

const configSchema = z.object({
  TAWNY_DATABASE_URL: z.string().min(1),
  /** The path of the socket of the engine. */
  TAWNY_ENGINE_SOCKET: z.string().min(1),
  TAWNY_PORT: z.coerce.number().int().min(0).max(65_535),
  /** Set where it was there before: its port is its own then, and waited for. */
  TAWNY_AGAIN: z.literal('1').optional(),
  /** The folder of what is kept beside the database. */
  TAWNY_STATE: z.string().min(1),
  /** What stand-ins and scripts of the start command show, to be let in. */
  TAWNY_TOKEN: z.string().min(16),
  /** Addresses to be open at, with commas between them; without it, as it was chosen in the interface. */
  TAWNY_LISTEN: z
    .string()
    .transform((text) => text.split(',').map((address) => address.trim()))
    .optional(),
  /** Set to encrypt what other machines are served; without it, as it was chosen in the interface. */
  TAWNY_TLS: z.literal('1').optional(),
  /** Paths of a certificate and its key, in place of one of our own. */
  TAWNY_CERT: z.string().optional(),
  TAWNY_KEY: z.string().optional(),
  /** UDP ports of the demo's stand-ins, as JSON. Without them, no demo is loaded. */
  TAWNY_DEMO_PORTS: z
    .string()
    .transform((text): unknown => JSON.parse(text))
    .pipe(demoPortsSchema)
    .optional(),
});

export interface Config {
  databaseUrl: string;
  engineSocket: string;
  port: number;
  /** Whether it was there before, at this port. */
  again: boolean;
  state: string;
  token: string;
  listen: readonly string[] | null;
  tls: boolean;
  /** Paths; null for a certificate of our own. */
  certificate: { cert: string; key: string } | null;
  demoPorts: DemoPorts | null;
}

/** @throws if the environment lacks something */
export function readConfig(): Config {
  const env = configSchema.parse(process.env);
  return {
    databaseUrl: env.TAWNY_DATABASE_URL,
    engineSocket: env.TAWNY_ENGINE_SOCKET,
    port: env.TAWNY_PORT,
    again: env.TAWNY_AGAIN === '1',
    state: env.TAWNY_STATE,
    token: env.TAWNY_TOKEN,
    listen: env.TAWNY_LISTEN ?? null,
    tls: env.TAWNY_TLS === '1',
    certificate: env.TAWNY_CERT && env.TAWNY_KEY ? { cert: env.TAWNY_CERT, key: env.TAWNY_KEY } : null,
    demoPorts: env.TAWNY_DEMO_PORTS ?? null,
  };
}
