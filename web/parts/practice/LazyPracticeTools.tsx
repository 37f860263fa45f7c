import { lazy, Suspense, type ComponentProps } from 'react';
import type Tools from './PracticeTools';

const Missing = () => null;
/** Fetched only where somebody practises; without it everything else goes on. */
const PracticeTools = lazy(() =>
  import('./PracticeTools').catch(() => ({ default: Missing as unknown as typeof Tools })),
);

export function LazyPracticeTools(props: ComponentProps<typeof Tools>) {
  return (
    <Suspense fallback={null}>
      <PracticeTools {...props} />
    </Suspense>
  );
}
