import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Piscina } from 'piscina';
import type { IssuedCertificate } from '../core/certificate/certificate';
import { certificateDigest } from '../store/run-log';
import { LeastUsed } from './least-used';
import { ServiceError } from './service-error';

/** Threads that print, and how many certificates may wait for one. */
const mostThreads = 2;
const mostWaiting = 40;
/** How long a thread without work stays, in ms. */
const idle = 30_000;

/** What the build makes of the thread's work, beside the server; while pages are developed there is none. */
const threadFile = join(dirname(process.argv[1] ?? '.'), 'printing-thread.mjs');
let threads: Piscina | null = null;

const printed = new LeastUsed<Buffer>(24);

/**
 * A certificate as a PDF, made in a thread of its own: whoever types a reading meanwhile does not wait for it.
 * @throws ServiceError 503 where too many are asked for at once
 */
export async function printCertificate(certificate: IssuedCertificate, seal: string | null): Promise<Buffer> {
  const key = certificateDigest({ certificate, seal });
  const known = printed.get(key);
  if (known) return known;
  const made = await print({ certificate, seal });
  printed.set(key, made);
  return made;
}

/** What a thread is given: the certificate, and the seal of its record. */
export type Printed = { certificate: IssuedCertificate; seal: string | null };

async function print(asked: Printed): Promise<Buffer> {
  if (!existsSync(threadFile))
    return (await import('./certificate-pdf/certificate-pdf')).certificatePdf(asked.certificate, asked.seal);
  threads ??= new Piscina({
    filename: threadFile,
    minThreads: 0,
    maxThreads: mostThreads,
    maxQueue: mostWaiting,
    idleTimeout: idle,
  });
  if (threads.queueSize >= mostWaiting)
    throw new ServiceError(503, 'Many certificates are being printed. Ask for this one again in a moment.');
  return Buffer.from((await threads.run(asked)) as Uint8Array);
}
