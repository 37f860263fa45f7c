import type { Stimulus } from '@ecoute/contract/stimuli';
import { StimulusView } from '../../../parts/stimuli/StimulusView';

/** What is looked at, as large as there is room. */
export function Pictures({ stimuli }: { stimuli: readonly Stimulus[] }) {
  const alone = stimuli.length === 1;
  return (
    <div className={`grid w-full max-w-4xl gap-4 ${alone ? '' : 'grid-cols-2'}`}>
      {stimuli.map(stimulus =>
        stimulus.kind === 'picture' && stimulus.recordingId ? (
          <img
            key={stimulus.id}
            src={`/api/recordings/${stimulus.recordingId}/shown`}
            alt={stimulus.words}
            className={`mx-auto max-w-full bg-[#fff] object-contain ${alone ? 'max-h-[52dvh] low:max-h-[80dvh]' : 'max-h-[36dvh]'}`}
          />
        ) : (
          <StimulusView key={stimulus.id} stimulus={stimulus} isOnStage />
        ),
      )}
    </div>
  );
}
