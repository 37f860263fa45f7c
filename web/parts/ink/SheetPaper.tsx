import { memo, type ReactNode, type Ref, type SVGProps } from 'react';
import { PEN_WIDTH, PENS, SHEET_WIDTH } from '@ecoute/core/takes/ink';

const Stroke = memo(function Stroke({ pen, points }: { pen: number; points: string }) {
  return <polyline points={points} stroke={PENS[pen]} />;
});

/** A sheet of paper, white in every theme, with what lies under it and what is drawn on it. */
export function SheetPaper({
  height,
  overId,
  overUrl,
  strokes,
  label,
  ref,
  children,
  ...rest
}: {
  height: number;
  /** A stored picture under it. */
  overId?: string | null;
  /** A picture of this device under it. */
  overUrl?: string | null;
  strokes: readonly { pen: number; points: readonly number[] }[];
  label: string;
  ref?: Ref<SVGSVGElement>;
  children?: ReactNode;
} & Omit<SVGProps<SVGSVGElement>, 'ref' | 'height' | 'overflow'>) {
  const under = overUrl ?? (overId ? `/api/recordings/${overId}/shown` : null);
  return (
    <svg
      ref={ref}
      role="img"
      aria-label={label}
      viewBox={`0 0 ${SHEET_WIDTH} ${height}`}
      fill="none"
      strokeWidth={PEN_WIDTH}
      strokeLinecap="round"
      strokeLinejoin="round"
      direction="ltr"
      {...rest}
    >
      <rect width={SHEET_WIDTH} height={height} fill="#fff" />
      {under && <image href={under} width={SHEET_WIDTH} height={height} preserveAspectRatio="none" />}
      {strokes.map((s, n) => (
        <Stroke key={n} pen={s.pen} points={s.points.join(' ')} />
      ))}
      {children}
    </svg>
  );
}
