import { ownCertificate } from '../../../../service/owner-service';
import { printCertificate } from '../../../../service/printing';
import { sealText } from '../../../../service/seal-service';
import { whoOf } from '../../_device';
import { file, notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/mine/[id]/certificate.pdf', async ({ id, context }) => {
  const certificate = await ownCertificate(whoOf(context), id);
  const pdf = await printCertificate(certificate, await sealText(id, certificate.number));
  return file(new Uint8Array(pdf), { type: 'application/pdf', name: certificate.number, ending: 'pdf', isShown: true });
});
export const ALL = notAllowed;
