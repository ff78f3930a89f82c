import { DocumentError } from '../../../core/faults';
import { importProcedure } from '../../../service/procedure-library';
import { ServiceError } from '../../../service/service-error';
import { notAllowed, served } from '../_endpoint';

/** The document itself is read by the core, which says every fault with its path. */
export const POST = served('POST /api/procedures', async ({ body }) => {
  try {
    return await importProcedure(body);
  } catch (error) {
    if (error instanceof DocumentError) throw new ServiceError(422, error.message, error.path);
    throw error;
  }
});
export const ALL = notAllowed;
