import { certificateFor } from '../../../../service/certificate-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/runs/[id]/certificate.json', ({ id, query }) => certificateFor(id, query.number));
export const ALL = notAllowed;
