import { createServer, type RequestListener, type Server } from 'node:http';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import type { Wishes } from '../cli/prepare-data';
import { readConfiguration, type Configuration } from '../store/configuration';
import type { Pages } from './front-door';

/** Where the built pages lie, beside this file in dist/. */
const here = dirname(fileURLToPath(import.meta.url));

/** How long requests on their way may take to end when the server is stopped, in ms. */
const stopPatience = 3000;

function listen(server: Server, { HOST, PORT }: Configuration): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      const words: Record<string, string> = {
        EADDRINUSE: `Port ${PORT} of ${HOST} is in use by another program. Stop that one, or choose another port: PORT=${PORT + 1} npm start`,
        EACCES: `This user may not listen on port ${PORT}. Choose one above 1023, for instance PORT=4600.`,
        EADDRNOTAVAIL: `This machine has no address ${HOST}. Give HOST one of its own, for instance 127.0.0.1.`,
        ENOTFOUND: `HOST is ${HOST}, which is no address of this machine. Give it one, for instance 127.0.0.1.`,
      };
      reject(new Error(words[error.code ?? ''] ?? `It cannot listen on ${HOST}:${PORT} (${error.code ?? error.message}).`));
    });
    server.listen(PORT, HOST, resolve);
  });
}

/** Starts the server: first the door, then the data, then the pages. Everything that stands in the way is one sentence. */
export async function serve(wishes: Wishes): Promise<void> {
  const configuration = readConfiguration(process.env);
  const address = `http://${configuration.HOST.includes(':') ? `[${configuration.HOST}]` : configuration.HOST}:${configuration.PORT}/`;
  let answer: RequestListener | null = null;
  let doing = '';
  const server = createServer((request, response) => {
    if (answer) return answer(request, response);
    response.writeHead(503, { 'content-type': 'text/plain; charset=utf-8', 'retry-after': '1' });
    response.end(`Just Twice is starting. ${doing}Load the page again in a moment.`);
  });
  await listen(server, configuration);
  // Loaded only now: whoever asks meanwhile is answered, and a port in use is said at once.
  const { checkpoint, database, databaseFile } = await import('../store/database');
  const { checkDatabaseFile } = await import('../store/check');
  const { takeDatabase } = await import('../store/serving-lock');
  const { log } = await import('../service/log');
  const file = databaseFile(configuration.DATABASE_URL);
  if (file) await checkDatabaseFile(file);
  const release = file ? await takeDatabase(file, address) : () => {};
  const { prepareData } = await import('../cli/prepare-data');
  await prepareData(configuration, wishes, (words) => {
    doing = `${words} `;
    console.log(words);
  });
  const { handler } = (await import(pathToFileURL(join(here, 'server', 'entry.mjs')).href)) as { handler: Pages };
  const db = await database();
  const { frontDoor } = await import('./front-door');
  answer = frontDoor(configuration, handler, join(here, 'client'));

  let stopping = false;
  const stop = async (why: string) => {
    if (stopping) return;
    stopping = true;
    log.info({ why }, 'stopping');
    server.close();
    server.closeIdleConnections();
    const deadline = setTimeout(() => server.closeAllConnections(), stopPatience);
    await new Promise((resolve) => (server.listening ? server.once('close', resolve) : resolve(null)));
    clearTimeout(deadline);
    // The file alone is then the database, and can be copied.
    if (file) await checkpoint(db).catch((error: unknown) => log.warn({ err: error }, 'the log was not written back'));
    db.$client.close();
    release();
    process.exit(0);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop(signal));
  process.on('disconnect', () => void stop('the program that started it ended'));
  log.info({ address, database: file ?? 'remote' }, 'serving');
  // What is derived and missing is made anew while people work.
  const { deriveAll } = await import('../service/derived-service');
  const { sealWhatIsThere } = await import('../service/seal-service');
  deriveAll(db, () => stopping).catch((error: unknown) => log.warn({ err: error }, 'what is derived could not be made anew'));
  sealWhatIsThere(db, () => stopping, 25)
    .then((count) => count && log.info({ count }, 'sealed what was there before'))
    .catch((error: unknown) => log.warn({ err: error }, 'older data could not be sealed'));
  console.log(`Just Twice is at ${address}  (stop it with Ctrl+C)`);
}

const flags = process.argv.slice(2);
serve({ demo: flags.includes('--demo'), fresh: flags.includes('--fresh') }).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
