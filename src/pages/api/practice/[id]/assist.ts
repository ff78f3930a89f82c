import { assistInPractice } from '../../../../service/practice-service';
import { notAllowed, served } from '../../_endpoint';

export const POST = served('POST /api/practice/[id]/assist', ({ id, body }) => assistInPractice(id, body));
export const ALL = notAllowed;
