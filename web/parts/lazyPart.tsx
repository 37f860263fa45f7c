import { lazy, Suspense, type ComponentType, type ReactNode } from 'react';

/**
 * A part that is fetched only where it is shown. Where it cannot be fetched, as without a network, the page does all else that
 * it did, and shows what stands for it.
 */
export function lazyPart<P extends object>(
  load: () => Promise<{ default: ComponentType<P> }>,
  { waiting = null, missing: Missing = () => null }: { waiting?: ReactNode; missing?: ComponentType<P> } = {},
): ComponentType<P> {
  const Part = lazy(() => load().catch(() => ({ default: Missing })));
  return function LazyPart(props: P) {
    return (
      <Suspense fallback={waiting}>
        <Part {...props} />
      </Suspense>
    );
  };
}
