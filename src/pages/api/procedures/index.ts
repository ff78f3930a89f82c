import * as z from 'zod';
import { DocumentError } from '../../../core/faults';
import { importProcedure } from '../../../service/procedure-library';
import { ServiceError } from '../../../service/service-error';
import { accepting, json, notAllowed } from '../_endpoint';

/** The document itself is read by the core, which says every fault with its path. */
export const POST = accepting(z.looseObject({ format: z.literal('just-twice/procedure') }), async (document) => {
  try {
    return json(await importProcedure(document), 201);
  } catch (error) {
    if (error instanceof DocumentError) throw new ServiceError(422, error.message, error.path);
    throw error;
  }
});
export const ALL = notAllowed;
