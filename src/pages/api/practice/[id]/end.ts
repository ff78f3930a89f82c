import { endPractice } from '../../../../service/practice-service';
import { notAllowed, served } from '../../_endpoint';

export const POST = served('POST /api/practice/[id]/end', ({ id, body }) => endPractice(id, body));
export const ALL = notAllowed;
