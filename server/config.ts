/** What the server is told by its environment. */
import { z } from 'zod';

export const CONFIG = Symbol('config');

const configSchema = z.object({
  TAWNY_DATABASE_URL: z.string().min(1),
  TAWNY_PORT: z.coerce.number().int().min(0).max(65_535),
  /** UDP port of the demo's water screen; where it is missing, no demo is loaded. */
  TAWNY_WATER_PORT: z.coerce.number().int().min(1).max(65_535).optional(),
});

export interface Config {
  databaseUrl: string;
  port: number;
  demoWaterPort: number | null;
}

/** @throws if the environment lacks something */
export function readConfig(): Config {
  const env = configSchema.parse(process.env);
  return {
    databaseUrl: env.TAWNY_DATABASE_URL,
    port: env.TAWNY_PORT,
    demoWaterPort: env.TAWNY_WATER_PORT ?? null,
  };
}
