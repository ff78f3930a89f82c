// Holds the write lock of a database for a while, again and again, as another program would: hold-lock.mjs <file> <ms,ms,…>
import { createClient } from '@libsql/client';

const [file, times] = process.argv.slice(2);
const client = createClient({ url: `file:${file}`, timeout: 5000 });
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
for (const ms of times.split(',').map(Number)) {
  await client.execute('BEGIN IMMEDIATE');
  process.stdout.write('held\n');
  await pause(ms);
  await client.execute('COMMIT');
  process.stdout.write('free\n');
  await pause(30);
}
