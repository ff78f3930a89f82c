import type { Act } from './registry';

/** Acts of a run that a list of who did what names; every other stands in the record of its run. */
export const deedWords: Readonly<Partial<Record<Act['type'], string>>> = {
  'run-started': 'put it on the bench',
  adjusted: 'adjusted',
  withdrawn: 'struck readings out',
  limited: 'limited the use',
  'run-completed': 'measured, and signed it',
  'run-reviewed': 'reviewed, and released it',
  'run-returned': 'sent it back at review',
  'run-broken-off': 'broke off',
  'correction-begun': 'began a correction',
  amended: 'amended a name',
  'certificate-withdrawn': 'withdrew the certificate',
};
