import { instrumentEntrySchema } from '../../../../core/register/entry-schemas';
import { changeInstrument, getInstrument } from '../../../../service/register-service';
import { accepting, answering, notAllowed } from '../../_endpoint';

export const GET = answering(({ params }) => getInstrument(params.id!));
export const PUT = accepting(instrumentEntrySchema, async (entry, { params, request }) => {
  await changeInstrument(params.id!, entry, request.headers.get('if-match'));
  return { id: params.id };
});
export const ALL = notAllowed;
