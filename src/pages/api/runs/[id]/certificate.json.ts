import { certificateFor } from '../../../../service/certificate-service';
import { answering, notAllowed } from '../../_endpoint';

export const GET = answering(({ params }) => certificateFor(params.id!));
export const ALL = notAllowed;
