import { CircleAlert, Info, WifiOff } from 'lucide-react';
import type { ReactNode } from 'react';

const ICONS = { note: Info, trouble: CircleAlert, offline: WifiOff };

/** Something to know: what happened, what is safe, what to do. Trouble is announced at once. */
export function Notice({
  kind = 'note',
  children,
  action,
}: {
  kind?: keyof typeof ICONS;
  children: ReactNode;
  action?: ReactNode;
}) {
  const Icon = ICONS[kind];
  return (
    <div
      role={kind === 'note' ? 'status' : 'alert'}
      className="flex flex-wrap items-start gap-x-4 gap-y-2 border-s-4 border-ink bg-sheet px-4 py-3"
    >
      <Icon aria-hidden className="mt-0.5 size-5 shrink-0" />
      <div className="min-w-0 flex-1 basis-56">{children}</div>
      {action}
    </div>
  );
}
