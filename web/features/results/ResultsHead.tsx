import type { ReactNode } from 'react';
import { Link, NavLink } from 'react-router';

const tabClass =
  'flex min-h-11 items-center border-b-3 border-transparent aria-[current=page]:border-ink aria-[current=page]:font-semibold';

/** The head of a class's results: its name, the ways of looking at them, and what narrows them. */
export function ResultsHead({
  classId,
  className,
  teaches,
  children,
}: {
  classId: string;
  className: string;
  teaches: boolean;
  children?: ReactNode;
}) {
  return (
    <header className="print:hidden">
      <p className="text-sm">
        <Link to="/results" className="underline underline-offset-4">
          Results
        </Link>
      </p>
      <div className="flex flex-wrap items-baseline gap-x-8">
        <h1 className="text-3xl">{className}</h1>
        {teaches && (
          <nav aria-label="Ways of looking at it" className="flex flex-wrap gap-x-5">
            <NavLink to={`/results/${classId}`} end className={tabClass}>
              Markbook
            </NavLink>
            <NavLink to={`/results/${classId}/can-do`} className={tabClass}>
              Can-do
            </NavLink>
            <NavLink to={`/results/${classId}/before-and-after`} className={tabClass}>
              Before and after
            </NavLink>
            <NavLink to={`/results/${classId}/hand-over`} className={tabClass}>
              Hand over
            </NavLink>
          </nav>
        )}
      </div>
      {children}
    </header>
  );
}
