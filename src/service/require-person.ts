import type { Database } from '../store/database';
import * as register from '../store/register';
import { ServiceError } from './service-error';

/** Whoever acts is a person of the laboratory. */
export async function requirePerson(db: Database, person: string): Promise<void> {
  if (!(await register.isPerson(db, person)))
    throw new ServiceError(422, 'Say who is at the bench: choose your name at the top of the page.', ['person']);
}
