import type { IssuedCertificate } from '../core/certificate/certificate';
import { certificatePdf } from '../service/certificate-pdf/certificate-pdf';

/** The work of a thread that prints. */
export default (certificate: IssuedCertificate): Promise<Uint8Array> => certificatePdf(certificate);
