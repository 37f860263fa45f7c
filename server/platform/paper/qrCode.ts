import QRCode from 'qrcode';

/** Draws a QR code (ISO/IEC 18004, level M) of a text into a square of a page; lengths in points. */
export function qrCode(
  page: PDFKit.PDFDocument,
  text: string,
  left: number,
  top: number,
  side: number,
): void {
  const { modules } = QRCode.create(text, { errorCorrectionLevel: 'M' });
  const cell = side / modules.size;
  page.fillColor('#000000');
  for (let y = 0; y < modules.size; y++)
    for (let x = 0; x < modules.size; x++)
      if (modules.get(y, x)) page.rect(left + x * cell, top + y * cell, cell, cell);
  page.fill();
}
