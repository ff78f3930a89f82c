import { readFileSync, writeSync } from 'node:fs';
import { answerVerb } from '../core/door/verbs';

/** Writes everything before the process may end: a pipe takes a long answer in parts. */
function print(descriptor: 1 | 2, document: unknown): void {
  const bytes = Buffer.from(`${JSON.stringify(document)}\n`);
  for (let at = 0; at < bytes.length;) {
    try {
      at += writeSync(descriptor, bytes, at);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EAGAIN') throw error;
    }
  }
}

function readInput(file: string | undefined): string | null {
  try {
    return readFileSync(file ?? 0, 'utf8');
  } catch {
    return null;
  }
}

const [verb, file] = process.argv.slice(2);
const text = readInput(file);
try {
  const answer =
    text === null
      ? { ok: false as const, refusal: { error: { message: `The file ${file ?? 'given'} cannot be read.`, path: [] } } }
      : await answerVerb(verb, text);
  if (answer.ok) print(1, answer.document);
  else print(2, answer.refusal);
  process.exitCode = answer.ok ? 0 : 2;
} catch {
  print(2, { error: { message: 'Something went wrong in the computation itself. Please report this input.', path: [] } });
  process.exitCode = 2;
}
