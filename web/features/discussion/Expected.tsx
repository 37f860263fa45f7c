import type { DiscussionView } from '@ecoute/contract/discussions';
import { t } from '../../base/i18n';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { RichText } from '../../parts/RichText';

/** What is expected, in the teacher's words and voice. */
export function Expected({ content }: { content: DiscussionView['content'] }) {
  const { directions, directionsRich, directionsVoice } = content;
  if (!directions && !directionsVoice) return null;
  return (
    <div className="grid gap-3 border-s-4 border-saffron bg-sheet px-4 py-3">
      {directionsVoice && (
        <div>
          <PlayButton
            track={trackOf(directionsVoice.recordingId, t('Welcome'), 'teacher', directionsVoice.durationMs)}
            label={t('the welcome')}
            text={t('Hear the welcome')}
          />
        </div>
      )}
      {directions && (
        <RichText doc={directionsRich} plain={directions} className="font-passage leading-relaxed" />
      )}
    </div>
  );
}
