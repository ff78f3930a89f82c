import { setRoles } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const PUT = served('PUT /api/people/roles', async ({ body }) => setRoles(body));
export const ALL = notAllowed;
