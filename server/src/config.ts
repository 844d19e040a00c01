/** What the surroundings say: read once at the start, checked, never again. */
import * as z from 'zod';

const configSchema = z.object({
  DATABASE_URL: z.string().min(1, 'DATABASE_URL is not set'),
  HOST: z.string().default('127.0.0.1'),
  PORT: z.coerce.number().int().min(0).max(65_535).default(4180),
  ESTUARINE_SECRET: z.string().min(32, 'ESTUARINE_SECRET must hold at least 32 characters'),
  /** Files of key and certificate; both or none. */
  ESTUARINE_TLS_KEY: z.string().optional(),
  ESTUARINE_TLS_CERT: z.string().optional(),
  ESTUARINE_WEB: z.string().optional(),
  /** Folder of the database where it lies on this machine: how full its disk is can be told. */
  ESTUARINE_DATA: z.string().optional(),
  /** Tries to sign in a minute from one address. */
  ESTUARINE_TRIES_PER_MINUTE: z.coerce.number().int().min(1).max(10_000).default(20),
  ESTUARINE_LOG: z.enum(['silent', 'warn', 'info']).default('warn'),
});

/** The one shop of a process. */
export const SHOP_ID = 'shop';

export interface Config {
  readonly databaseUrl: string;
  readonly host: string;
  readonly port: number;
  readonly secret: string;
  readonly tls: { readonly key: string; readonly cert: string } | null;
  readonly webRoot: string | undefined;
  readonly dataFolder: string | undefined;
  readonly triesPerMinute: number;
  readonly logLevel: 'silent' | 'warn' | 'info';
}

/** Throws with one sentence for each thing that is missing or wrong. */
export function readConfig(surroundings: NodeJS.ProcessEnv): Config {
  const parsed = configSchema.safeParse(surroundings);
  if (!parsed.success) throw new Error(parsed.error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('\n'));
  const env = parsed.data;
  const { ESTUARINE_TLS_KEY: key, ESTUARINE_TLS_CERT: cert } = env;
  if ((key === undefined) !== (cert === undefined)) throw new Error('ESTUARINE_TLS_KEY and ESTUARINE_TLS_CERT go together.');
  if (!/^(127\.|localhost$|::1$)/.test(env.HOST) && key === undefined)
    throw new Error(`HOST ${env.HOST} is served by TLS only: set ESTUARINE_TLS_KEY and ESTUARINE_TLS_CERT.`);
  return {
    ...{ databaseUrl: env.DATABASE_URL, host: env.HOST, port: env.PORT, secret: env.ESTUARINE_SECRET },
    tls: key !== undefined && cert !== undefined ? { key, cert } : null,
    ...{ webRoot: env.ESTUARINE_WEB, dataFolder: env.ESTUARINE_DATA },
    ...{ logLevel: env.ESTUARINE_LOG, triesPerMinute: env.ESTUARINE_TRIES_PER_MINUTE },
  };
}
