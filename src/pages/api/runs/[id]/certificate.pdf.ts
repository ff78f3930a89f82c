import { certificateFor } from '../../../../service/certificate-service';
import { printCertificate } from '../../../../service/printing';
import { answering, notAllowed } from '../../_endpoint';

export const GET = answering(async ({ params }) => {
  const certificate = await certificateFor(params.id!);
  const pdf = await printCertificate(certificate);
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
