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
  demoPorts: DemoPorts | null;
}

/** @throws if the environment lacks something */
export function readConfig(): Config {
  const env = configSchema.parse(process.env);
  return {
    databaseUrl: env.TAWNY_DATABASE_URL,
    engineSocket: env.TAWNY_ENGINE_SOCKET,
    port: env.TAWNY_PORT,
    demoPorts: env.TAWNY_DEMO_PORTS ?? null,
  };
}
