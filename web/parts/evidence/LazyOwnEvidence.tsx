import { lazy, Suspense } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import type { Track } from '../player/player';
import type Shown from './OwnEvidence';

const Missing = () => null;
/** Fetched only where it is shown. A page without it, as without a network, does all else that it did. */
const OwnEvidence = lazy(() =>
  import('./OwnEvidence').catch(() => ({ default: Missing as unknown as typeof Shown })),
);

export function LazyOwnEvidence(props: { track: Track; item: Item }) {
  return (
    <Suspense fallback={null}>
      <OwnEvidence {...props} />
    </Suspense>
  );
}
