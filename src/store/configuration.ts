import { z } from 'zod';

const configurationSchema = z.object({
  DATABASE_URL: z
    .string()
    .regex(
      /^(file:|libsql:|https?:|wss?:)/,
      'DATABASE_URL starts with file:, libsql:, http: or ws:, for instance file:data/just-twice.db',
    )
    .default('file:data/just-twice.db'),
  DATABASE_TOKEN: z.string().optional(),
  PORT: z.coerce.number({ error: 'PORT is a number from 1 to 65535.' }).int().min(1).max(65535).default(4600),
  HOST: z.string().min(1).default('127.0.0.1'),
});

export type Configuration = z.infer<typeof configurationSchema>;

/**
 * Configuration from the environment.
 * @throws Error naming the variable and what it must be
 */
export function readConfiguration(environment: Record<string, string | undefined>): Configuration {
  const parsed = configurationSchema.safeParse(environment);
  if (parsed.success) return parsed.data;
  throw new Error(parsed.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('\n'));
}
