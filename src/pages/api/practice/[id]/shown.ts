import { shownInPractice } from '../../../../service/practice-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/practice/[id]/shown', ({ id, query: { slot } }) => shownInPractice(id, slot));
export const ALL = notAllowed;
