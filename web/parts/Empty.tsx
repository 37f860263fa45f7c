import type { ReactNode } from 'react';

/** An empty place says what will be here and what to do next. */
export function Empty({
  title,
  children,
  action,
}: {
  title: string;
  children?: ReactNode;
  action?: ReactNode;
}) {
  return (
    <div className="border border-dashed border-edge px-6 py-10">
      <h2 className="text-xl">{title}</h2>
      {children && <p className="mt-2 max-w-prose text-soft">{children}</p>}
      {action && <div className="mt-5">{action}</div>}
    </div>
  );
}
