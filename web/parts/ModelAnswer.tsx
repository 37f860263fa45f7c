import type { Item } from '@ecoute/contract/assessments';
import { PlayButton, trackOf } from './player/PlayButton';
import { t } from '../base/i18n';

/** A model answer, where one is there and open; the server leaves it out until then. */
export function ModelAnswer({
  item,
  number,
}: {
  item: Pick<Item, 'modelText' | 'modelVoice'>;
  number: number;
}) {
  if (!item.modelText && !item.modelVoice) return null;
  return (
    <div className="flex flex-wrap items-start gap-3 border-s-4 border-saffron ps-4">
      <p className="w-full text-sm text-soft">{t('A model answer')}</p>
      {item.modelVoice && (
        <PlayButton
          track={trackOf(
            item.modelVoice.recordingId,
            t('Model answer {{number}}', { number }),
            'teacher',
            item.modelVoice.durationMs,
          )}
          label={t('the model answer of item {{number}}', { number })}
        />
      )}
      {item.modelText && (
        <p className="min-w-0 flex-1 basis-60 font-passage whitespace-pre-wrap">{item.modelText}</p>
      )}
    </div>
  );
}
