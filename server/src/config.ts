/** What the surroundings say: read once at the start, checked, never again. */
import * as z from 'zod';

const configSchema = z.object({
  DATABASE_URL: z.string().min(1, 'DATABASE_URL is not set'),
  HOST: z.string().default('127.0.0.1'),
  PORT: z.coerce.number().int().min(0).max(65_535).default(4180),
  ESTUARINE_SECRET: z.string().min(32, 'ESTUARINE_SECRET must hold at least 32 characters'),
  ESTUARINE_WEB: z.string().optional(),
  ESTUARINE_LOG: z.enum(['silent', 'warn', 'info']).default('warn'),
});

export interface Config {
  readonly databaseUrl: string;
  readonly host: string;
  readonly port: number;
  readonly secret: string;
  readonly webRoot: string | undefined;
  readonly logLevel: 'silent' | 'warn' | 'info';
}

/** Throws with one sentence for each thing that is missing or wrong. */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const parsed = configSchema.safeParse(env);
  if (!parsed.success) throw new Error(parsed.error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('\n'));
  const { DATABASE_URL, HOST, PORT, ESTUARINE_SECRET, ESTUARINE_WEB, ESTUARINE_LOG } = parsed.data;
  return { databaseUrl: DATABASE_URL, host: HOST, port: PORT, secret: ESTUARINE_SECRET, webRoot: ESTUARINE_WEB, logLevel: ESTUARINE_LOG };
}
