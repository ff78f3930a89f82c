import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';

export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export type Launched = {
  process: ChildProcess;
  /** What it has written so far, on both channels. */ output: () => string;
  /** Resolves with the exit code, or the signal that ended it. */ ended: Promise<number | string>;
  stop: (signal?: NodeJS.Signals) => Promise<number | string>;
};

/** Starts the built server without waiting for it. */
export function start(env: Record<string, string>, flags: string[] = []): Launched {
  const child = spawn(process.execPath, ['dist/serve.mjs', ...flags], {
    env: { ...process.env, HOST: '127.0.0.1', NODE_ENV: 'production', CHECK_ANSWERS: '1', LOG_LEVEL: 'warn', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let output = '';
  for (const channel of [child.stdout, child.stderr]) channel.on('data', (text: Buffer) => (output += text.toString()));
  const ended = new Promise<number | string>((resolve) => child.once('exit', (code, signal) => resolve(code ?? signal!)));
  return {
    process: child,
    output: () => output,
    ended,
    stop: (signal = 'SIGKILL') => {
      child.kill(signal);
      return ended;
    },
  };
}

/**
 * Starts the built server and waits until it serves; a demo that is being made says how far it has come.
 * @throws Error with what it said when it ends instead, or says nothing new for a minute
 */
export async function launch(env: Record<string, string>, flags: string[] = []): Promise<Launched> {
  const server = start(env, flags);
  let said = server.output();
  let until = Date.now() + 60_000;
  let over = false;
  void server.ended.then(() => (over = true));
  while (!server.output().includes('Just Twice is at')) {
    if (server.output() !== said) until = Date.now() + 60_000;
    said = server.output();
    if (over || Date.now() > until) throw new Error(`The server did not start: ${server.output()}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return server;
}
