import { ArrowRight, Check, Mic, RotateCcw, UserRound } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { SpokenWord } from '@ecoute/core/voice/spokenWords';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { t } from '../../../base/i18n';
import { keepCheck } from '../../../parts/recorder/heldCheck';
import { microphoneTrouble, openMicrophone, type Microphone } from '../../../parts/recorder/microphone';
import { useLiveCheck, type Heard } from '../device/useLiveCheck';
import { ChildFrame, Shape } from './ChildFrame';
import { HearsYou } from './HearsYou';
import { useVoice } from './useVoice';

const WORDS: Record<NonNullable<Heard['verdict']>, SpokenWord> = {
  good: 'heard',
  muted: 'notHeard',
  silent: 'notHeard',
  faint: 'louder',
  clipped: 'softer',
  noisy: 'noisy',
};

/** The browser’s question, then a disc that grows with the voice. What leads is silent while it listens. */
export function ChildCheck({
  forMusic,
  content,
  microphone,
  onMicrophone,
  onDone,
  onLeave,
}: {
  forMusic: boolean;
  content: AssessmentContent;
  microphone: Microphone | null;
  onMicrophone: (microphone: Microphone) => void;
  onDone: () => void;
  onLeave: () => void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [asked, setAsked] = useState(0);
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    if (!microphone) {
      setTrouble(null);
      openMicrophone(forMusic).then(
        opened => (gone.current ? opened.close() : onMicrophone(opened)),
        (error: unknown) => !gone.current && setTrouble(microphoneTrouble(error)),
      );
    }
    return () => {
      gone.current = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each press
  }, [asked]);
  /** What it heard last. Well heard once is enough. */
  const [found, setFound] = useState<Heard['verdict']>(null);
  const isGood = found === 'good';
  const first: SpokenWord = forMusic ? 'playForCheck' : 'speakForCheck';
  const word: SpokenWord = trouble ? 'help' : !microphone ? 'allow' : found ? WORDS[found] : first;
  const voice = useVoice([{ word }], word, content);
  // What leads must not be heard by what it judges.
  const { verdict } = useLiveCheck(microphone, voice.isSpeaking || isGood);
  useEffect(() => {
    if (verdict) setFound(verdict);
  }, [verdict]);
  const goOn = () => {
    voice.stop();
    if (microphone && isGood) keepCheck(microphone, forMusic);
    onDone();
  };
  return (
    <ChildFrame
      label={t('Your microphone')}
      voice={voice}
      onLeave={onLeave}
      step={word}
      actions={
        !microphone ? (
          trouble ? (
            <Shape icon={RotateCcw} kind="go" label={t('Try again')} onPress={() => setAsked(n => n + 1)} />
          ) : null
        ) : (
          <Shape
            icon={isGood ? Check : ArrowRight}
            kind={isGood ? 'go' : 'plain'}
            small={!isGood}
            calls={isGood}
            label={isGood ? t('I am heard: go on') : t('Go on all the same')}
            onPress={goOn}
          />
        )
      }
    >
      {microphone ? (
        <div className="grid justify-items-center gap-6">
          <HearsYou analyser={microphone.analyser} isRecording={false} />
          {isGood ? (
            <Check aria-hidden className="size-20 text-petrol-ink" />
          ) : found === 'silent' || found === 'muted' ? (
            <UserRound aria-hidden className="size-20 text-soft" />
          ) : (
            <Mic aria-hidden className="size-20 text-soft" />
          )}
        </div>
      ) : trouble ? (
        <div className="grid justify-items-center gap-4">
          <UserRound aria-hidden className="size-28 text-soft" />
          <p className="max-w-xl text-center">{trouble}</p>
        </div>
      ) : (
        <Mic aria-hidden className="size-32 animate-[calls_1.6s_ease-in-out_infinite] text-petrol-ink" />
      )}
    </ChildFrame>
  );
}
