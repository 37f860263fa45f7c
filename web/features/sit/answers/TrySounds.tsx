import { Drum, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { accompanist, type Accompanist } from '../../../parts/recorder/accompanist';
import type { Microphone } from '../../../parts/recorder/microphone';
import { SoundMissing } from '../../../parts/recorder/run';
import { t } from '../../../base/i18n';
import { BeatView } from './BeatView';

/** A moment between the press and the first sound, so that it does not begin cut off. */
const BEGINS_SEC = 0.1;

/** Hears what will sound along with an answer (starting note, beat, drone, backing track), before anything is recorded. */
export default function TrySounds({ item, microphone }: { item: Item; microphone: Microphone }) {
  const [band, setBand] = useState<Accompanist | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const sounding = useRef<Accompanist | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const left = useRef(false);
  const stop = () => {
    clearTimeout(timer.current);
    sounding.current?.stop();
    sounding.current = null;
    setBand(null);
  };
  // Recording takes this off the page: nothing of it sounds into an answer.
  useEffect(() => {
    left.current = false;
    return () => {
      left.current = true;
      clearTimeout(timer.current);
      sounding.current?.stop();
    };
  }, []);
  const hear = async () => {
    if (!item.music) return;
    setTrouble(null);
    try {
      const { context } = microphone;
      await context.resume();
      const made = await accompanist(context, item.music);
      if (left.current) return;
      const fromSec = context.currentTime + BEGINS_SEC;
      made.giveNote(fromSec);
      const lengthMs = Math.max(item.answerLimitMs, made.layout.answerFromMs);
      made.begin(fromSec + made.beforeSec, lengthMs);
      sounding.current = made;
      setBand(made);
      timer.current = setTimeout(stop, made.beforeSec * 1000 + made.layout.answerFromMs + lengthMs);
    } catch (error) {
      setTrouble(
        error instanceof SoundMissing
          ? t(error.message)
          : t('This sound cannot be played just now. Check the connection and press play again.'),
      );
    }
  };
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-3">
        {band ? (
          <Button onClick={stop}>
            <Square aria-hidden className="size-5" /> {t('Enough')}
          </Button>
        ) : (
          <Button onClick={() => void hear()}>
            <Drum aria-hidden className="size-5" /> {t('Hear what sounds along')}
          </Button>
        )}
        {band?.layout.beat && <BeatView beat={band.layout.beat} positionMs={band.beatPositionMs} />}
      </div>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
    </div>
  );
}
