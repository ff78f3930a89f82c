import { health } from '../service/health-service';
import { answering, notAllowed } from './api/_endpoint';

export const GET = answering(health);
export const ALL = notAllowed;
