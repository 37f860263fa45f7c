import { lazy, Suspense, useEffect } from 'react';
import { directionOf } from '@ecoute/core/formats/languages';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { loadScript } from '../../base/scripts/loadScript';
import { Loading } from '../Loading';

const Notation = lazy(() => import('../stimuli/Notation').then(m => ({ default: m.Notation })));

/** Something to draw on, laid out alike everywhere: nothing in it opens, folds or depends on the screen. */
export function FlatStimulus({ stimulus }: { stimulus: Stimulus }) {
  useEffect(() => loadScript(stimulus.language), [stimulus.language]);
  if (stimulus.kind === 'passage')
    return (
      <div
        dir={directionOf(stimulus.language)}
        lang={stimulus.language || undefined}
        data-passage
        className="p-8 font-passage text-[26px] leading-[2.2] whitespace-pre-wrap text-[#10202b]"
      >
        {stimulus.text}
      </div>
    );
  if (stimulus.kind === 'notation')
    return (
      <div className="p-6 text-[#10202b]">
        <Suspense fallback={<Loading rows={1} height={160} />}>
          {/* Nothing to press under a drawing. */}
          <Notation stimulus={{ ...stimulus, startingNote: false }} />
        </Suspense>
      </div>
    );
  const page = stimulus.kind === 'pages' ? `?page=${stimulus.page || 1}` : '';
  return (
    <img
      src={`/api/recordings/${stimulus.recordingId}/shown${page}`}
      alt={stimulus.words}
      className="block w-full"
    />
  );
}
