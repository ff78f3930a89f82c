import QRCode from 'qrcode';

/** A code as one path of squares, a unit each, to be drawn at any size. */
export type CodeDrawing = { size: number; path: string };

/** The address that a label's code holds: it opens the quick check of the instrument. */
export const labelAddress = (origin: string, identification: string): string =>
  `${origin}/quick?code=${encodeURIComponent(identification)}`;

/** The QR code of a text (ISO/IEC 18004), with as much correction as a worn label needs. @throws Error for more than 1200 characters */
export function qrCode(text: string): CodeDrawing {
  const { modules } = QRCode.create(text, { errorCorrectionLevel: 'Q' });
  const { size, data } = modules;
  let path = '';
  for (let y = 0; y < size; y++) for (let x = 0; x < size; x++) if (data[y * size + x]) path += `M${x} ${y}h1v1h-1z`;
  return { size, path };
}
