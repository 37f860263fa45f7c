import { Gauge, Square, Volume2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import type { Subject } from '@ecoute/contract/classes';
import { heardAs, targetOf } from '@ecoute/contract/evidence';
import { t } from '../../base/i18n';
import { Button } from '../Button';
import { lazyPart } from '../lazyPart';
import { Notice } from '../Notice';
import { player } from '../player/usePlayer';
import type { Microphone } from '../recorder/microphone';
import { playTarget } from './hearTarget';

const LiveTuner = lazyPart(() => import('./LiveTuner'));

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
  subject: Subject;
  microphone: Microphone;
  isRecording: boolean;
}) {
  const [tunes, setTunes] = useState(false);
  if (heardAs(item, subject) !== 'music') return null;
  return (
    <div className="grid grid-cols-1 gap-3">
      <div className="flex flex-wrap items-center gap-3">
        {/* A model answer that is open is the target itself. */}
        {!item.modelVoice && <HearTarget item={item} isStopped={isRecording} />}
        <Button aria-pressed={tunes} onClick={() => setTunes(!tunes)}>
          <Gauge aria-hidden className="size-5" /> {tunes ? t('Put the tuner away') : t('Tuner')}
        </Button>
      </div>
      {tunes && <LiveTuner microphone={microphone} />}
    </div>
  );
}
