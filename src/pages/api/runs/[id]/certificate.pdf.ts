import { sealText } from '../../../../service/seal-service';
import { certificateFor } from '../../../../service/certificate-service';
import { printCertificate } from '../../../../service/printing';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/runs/[id]/certificate.pdf', async ({ id, query }) => {
  const certificate = await certificateFor(id, query.number);
  const pdf = await printCertificate(certificate, await sealText(id));
  const name = certificate.number.replace(/[^A-Za-z0-9-]/g, '_');
  return new Response(new Uint8Array(pdf), {
    headers: {
      'content-type': 'application/pdf',
      'content-disposition': `inline; filename="${name}.pdf"`,
      'cache-control': 'no-store',
    },
  });
});
export const ALL = notAllowed;
