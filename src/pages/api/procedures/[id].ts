import { retireProcedure } from '../../../service/procedure-library';
import { notAllowed, served } from '../_endpoint';

/** Retires a procedure: it is not begun any more. */
export const DELETE = served('DELETE /api/procedures/[id]', ({ id, body }) => retireProcedure(id, body));
export const ALL = notAllowed;
