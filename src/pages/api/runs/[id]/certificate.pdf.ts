import { certificateFor } from '../../../../service/certificate-service';
import { printCertificate } from '../../../../service/printing';
import { sealText } from '../../../../service/seal-service';
import { file, notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/runs/[id]/certificate.pdf', async ({ id, query }) => {
  const certificate = await certificateFor(id, query.number);
  const pdf = await printCertificate(certificate, await sealText(id, certificate.number));
  return file(new Uint8Array(pdf), { type: 'application/pdf', name: certificate.number, ending: 'pdf', isShown: true });
});
export const ALL = notAllowed;
