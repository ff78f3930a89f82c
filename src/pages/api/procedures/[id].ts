import { retirementSchema, retireProcedure } from '../../../service/procedure-library';
import { accepting, notAllowed } from '../_endpoint';

/** Retires a procedure: it is not begun any more. */
export const DELETE = accepting(retirementSchema, (said, { params }) => retireProcedure(params.id!, said));
export const ALL = notAllowed;
