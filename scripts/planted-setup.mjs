// Before each test file while bugs are planted: which of them bite now, and afterwards which of them it came by.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, expect } from 'vitest';

const folder = process.env.PLANTED;
const biting = new Set(JSON.parse(readFileSync(join(folder, 'biting.json'), 'utf8')));
const met = new Set();
/** How long a bug may keep a test busy: one that never ends has been found too. */
const longest = 60_000;
const began = Date.now();
let asked = 0;

globalThis.planted = (number) => {
  if (!biting.has(number)) {
    met.add(number);
    return false;
  }
  if (++asked % 100_000 === 0 && Date.now() - began > longest) throw new Error('It would never end.');
  return true;
};

afterAll(() => {
  const file = join(folder, `${expect.getState().testPath.replaceAll('/', '~')}.json`);
  if (!existsSync(file)) writeFileSync(file, JSON.stringify([...met]));
});
