import { ServiceError } from '../../service/service-error';
import { answering } from './_endpoint';

export const ALL = answering(async () => {
  throw new ServiceError(404, 'There is nothing at this address.');
});
