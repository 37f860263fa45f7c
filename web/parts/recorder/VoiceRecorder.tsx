import { Mic, Square } from 'lucide-react';
import { clock } from '@ecoute/core/timing/words';
import { t } from '../../base/i18n';
import { Button } from '../Button';
import { LevelMeter } from './LevelMeter';
import type { useVoiceMessage } from './useVoiceMessage';

/** A message while it is recorded, or is about to be: its speaker sees that they are heard. Otherwise nothing. */
export function VoiceRecorder({
  voice,
  limitMs,
  isSent = true,
}: {
  voice: ReturnType<typeof useVoiceMessage>;
  limitMs: number;
  /** It is sent by its speaker once it was heard; otherwise it stands as soon as it is recorded. */
  isSent?: boolean;
}) {
  if (voice.running)
    return (
      <div className="grid gap-3 border-2 border-vermilion bg-vermilion-wash p-3 sm:grid-cols-[auto_minmax(0,1fr)_auto] sm:items-center">
        <span className="tabular text-xl">
          {t('{{passed}} of {{limit}}', { passed: clock(voice.elapsedMs), limit: clock(limitMs) })}
        </span>
        <LevelMeter analyser={voice.running.microphone.analyser} recording />
        <Button look="record" onClick={() => void voice.stop()}>
          <Square aria-hidden className="size-5 fill-current" /> {t('Stop')}
        </Button>
      </div>
    );
  if (!voice.ready) return null;
  return (
    <div className="grid gap-3 border-2 border-edge p-3">
      <LevelMeter analyser={voice.ready.analyser} />
      <p className="text-sm text-soft">
        {isSent
          ? t('Nothing is recorded yet. You can speak for up to {{limit}}, and hear it before you send it.', {
              limit: clock(limitMs),
            })
          : t('Nothing is recorded yet. You can speak for up to {{limit}}, hear it, and record it again.', {
              limit: clock(limitMs),
            })}
      </p>
      <div className="flex flex-wrap gap-2">
        <Button look="main" onClick={() => void voice.start()}>
          <Mic aria-hidden className="size-5" /> {t('Record now')}
        </Button>
        <Button look="quiet" onClick={voice.letGo}>
          {t('Close the microphone')}
        </Button>
      </div>
    </div>
  );
}
