import { health } from '../service/health-service';
import { notAllowed, served } from './api/_endpoint';

export const GET = served('GET /health', health);
export const ALL = notAllowed;
