import { createReadStream, readFileSync, writeSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { answerVerb, isVerb } from '../core/door/verbs';

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

const words = process.argv.slice(2);
const isLines = words.includes('--lines');
const [verb, file] = words.filter((w) => w !== '--lines');

/** One document, one answer; what is refused is said on standard error, with exit code 2. */
async function one(text: string | null): Promise<void> {
  const answer =
    text === null
      ? { ok: false as const, refusal: { error: { message: `The file ${file ?? 'given'} cannot be read.`, path: [] } } }
      : await answerVerb(verb, text);
  if (answer.ok) print(1, answer.document);
  else print(2, answer.refusal);
  process.exitCode = answer.ok ? 0 : 2;
}

/** A document a line in, an answer a line out, in order; a refused line says so in its place. */
async function lines(input: NodeJS.ReadableStream): Promise<void> {
  if (verb === undefined || !isVerb(verb)) return one('');
  for await (const line of createInterface({ input, crlfDelay: Infinity })) {
    if (line.trim() === '') continue;
    const answer = await answerVerb(verb, line).catch(() => ({ ok: false as const, refusal: ours }));
    print(1, answer.ok ? answer.document : answer.refusal);
  }
}

const ours = {
  error: { message: 'Something went wrong in the computation itself. Please report this input.', path: [] },
};
try {
  if (isLines) await lines(file === undefined ? process.stdin : createReadStream(file));
  else await one(readInput(file));
} catch (error) {
  const isMissing = error instanceof Error && 'code' in error && error.code === 'ENOENT';
  print(2, isMissing ? { error: { message: `The file ${file ?? 'given'} cannot be read.`, path: [] } } : ours);
  process.exitCode = 2;
}
