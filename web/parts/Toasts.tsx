import type { ReactNode } from 'react';

/** What is said of what was just done: over the foot of the page, so that nothing under the hand moves. */
export function Toasts({ children }: { children: ReactNode }) {
  return (
    <div className="pointer-events-none fixed inset-x-4 bottom-20 z-30 mx-auto grid max-w-3xl gap-2 [&>*]:pointer-events-auto">
      {children}
    </div>
  );
}
