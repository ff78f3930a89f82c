import { certificatePdf } from '../service/certificate-pdf/certificate-pdf';
import type { Printed } from '../service/printing';

/** The work of a thread that prints. */
export default ({ certificate, seal }: Printed): Promise<Uint8Array> => certificatePdf(certificate, seal);
