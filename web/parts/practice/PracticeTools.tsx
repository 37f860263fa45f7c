import { Gauge, Square, Volume2 } from 'lucide-react';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { heardAs, targetOf, type Item } from '@ecoute/contract/assessments';
import { t } from '../../app/i18n';
import { Button } from '../Button';
import { Notice } from '../Notice';
import { PlayButton, trackOf } from '../player/PlayButton';
import { player } from '../player/usePlayer';
import type { Microphone } from '../recorder/microphone';
import { playTarget } from './hearTarget';

const LiveTuner = lazy(() => import('./LiveTuner'));

/** The target as it should sound; stops when something is recorded. */
function HearTarget({ item, isStopped }: { item: Item; isStopped: boolean }) {
  const target = targetOf(item);
  const [state, setState] = useState<'still' | 'sounds' | 'failed'>('still');
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => {
    if (isStopped) stop.current?.();
  }, [isStopped]);
  useEffect(() => () => stop.current?.(), []);
  if (!target) return null;
  const press = async () => {
    if (state === 'sounds') return stop.current?.();
    player.pause();
    setState('sounds');
    try {
      stop.current = await playTarget(target, item.music?.metronome?.bpm ?? null, () => setState('still'));
    } catch {
      setState('failed');
    }
  };
  return (
    <>
      <Button onClick={() => void press()} disabled={isStopped}>
        {state === 'sounds' ? (
          <Square aria-hidden className="size-5 fill-current" />
        ) : (
          <Volume2 aria-hidden className="size-5" />
        )}
        {state === 'sounds' ? t('Stop the target') : t('Hear the target')}
      </Button>
      {state === 'failed' && (
        <Notice kind="trouble">{t('The target cannot be played just now. Try again in a moment.')}</Notice>
      )}
    </>
  );
}

/** In practice: the target to hear, and a tuner that runs along. */
export default function PracticeTools({
  item,
  subject,
  microphone,
  isRecording,
}: {
  item: Item;
  subject: 'language' | 'music';
  microphone: Microphone;
  isRecording: boolean;
}) {
  const [tunes, setTunes] = useState(false);
  const isMusic = heardAs(item, subject) === 'music';
  const model = item.modelVoice;
  if (!isMusic && !model) return null;
  return (
    <div className="grid grid-cols-1 gap-3">
      <div className="flex flex-wrap items-center gap-3">
        {model ? (
          <PlayButton
            track={trackOf(model.recordingId, t('Hear the target'), 'teacher', model.durationMs)}
            label={t('Hear the target')}
            text={t('Hear the target')}
          />
        ) : (
          <HearTarget item={item} isStopped={isRecording} />
        )}
        {isMusic && (
          <Button aria-pressed={tunes} onClick={() => setTunes(!tunes)}>
            <Gauge aria-hidden className="size-5" /> {tunes ? t('Put the tuner away') : t('Tuner')}
          </Button>
        )}
      </div>
      {tunes && (
        <Suspense fallback={null}>
          <LiveTuner microphone={microphone} />
        </Suspense>
      )}
    </div>
  );
}
