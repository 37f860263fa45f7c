import QRCode from 'qrcode';
import { useMemo } from 'react';

/** A QR code, drawn: dark on white in every theme, or phones do not read it. */
export function QrCode({
  text,
  label,
  className = 'size-full',
}: {
  text: string;
  label: string;
  className?: string;
}) {
  const { size, path } = useMemo(() => {
    const { modules } = QRCode.create(text, { errorCorrectionLevel: 'M' });
    let d = '';
    for (let y = 0; y < modules.size; y++)
      for (let x = 0; x < modules.size; x++) if (modules.get(y, x)) d += `M${x + 4} ${y + 4}h1v1h-1z`;
    return { size: modules.size + 8, path: d };
  }, [text]);
  return (
    <svg
      role="img"
      aria-label={label}
      viewBox={`0 0 ${size} ${size}`}
      className={className}
      shapeRendering="crispEdges"
    >
      <rect width={size} height={size} fill="#fff" />
      <path d={path} fill="#000" />
    </svg>
  );
}
