import * as z from 'zod';

const port = z.coerce.number({ error: 'PORT is a number from 1 to 65535.' }).int().min(1).max(65535);
const hostName = /^(\[[0-9a-f:.]+\]|[a-z0-9_.-]+)(:\d{1,5})?$/i;

const configurationSchema = z.object({
  DATABASE_URL: z
    .string()
    .regex(
      /^(file:|libsql:|https?:|wss?:)/,
      'DATABASE_URL starts with file:, libsql:, http: or ws:, for instance file:data/just-twice.db',
    )
    .default('file:data/just-twice.db'),
  DATABASE_TOKEN: z.string().optional(),
  PORT: port.default(4600),
  HOST: z.string().min(1).default('127.0.0.1'),
  /** Names under which people reach this server, parted by commas; the address it listens on and localhost when not given. */
  HOSTS: z
    .string()
    .default('')
    .transform((text) =>
      text
        .split(',')
        .map((h) => h.trim().toLowerCase())
        .filter(Boolean),
    )
    .refine((hosts) => hosts.every((h) => hostName.test(h)), 'HOSTS is a list such as bench.works.example,10.0.0.5:4600'),
  /** Whether a proxy in front of the server is believed when it says which host was asked for. */
  TRUST_PROXY: z
    .enum(['', '0', '1'], { error: 'TRUST_PROXY is 1 behind a proxy that sets X-Forwarded-Host, else 0.' })
    .default(''),
  /** By what cookies of sign-in are signed; made once and kept beside a local database when not given. */
  SIGN_IN_KEY: z.string().min(32, 'SIGN_IN_KEY has at least 32 characters.').optional(),
  /** 1 where people reach the server by https: its cookies are then sent by no other way. */
  HTTPS: z.enum(['', '0', '1'], { error: 'HTTPS is 1 where people reach the server by https, else 0.' }).default(''),
  LOG_LEVEL: z
    .enum(['debug', 'info', 'warn', 'error', 'silent'], { error: 'LOG_LEVEL is debug, info, warn, error or silent.' })
    .default('info'),
});

export type Configuration = z.infer<typeof configurationSchema>;

/**
 * Configuration from the environment.
 * @throws Error naming the variable and what it must be
 */
export function readConfiguration(environment: Record<string, string | undefined>): Configuration {
  const parsed = configurationSchema.safeParse(environment);
  if (parsed.success) return parsed.data;
  const words = parsed.error.issues.map(({ path, message }) => {
    const name = path.join('.');
    return message.startsWith(name) ? message : `${name}: ${message}`;
  });
  throw new Error(words.join(' '));
}
