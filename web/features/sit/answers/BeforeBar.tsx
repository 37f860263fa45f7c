import { Mic, Play } from 'lucide-react';
import type { ReactNode } from 'react';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { t } from '../../../base/i18n';
import { useTimeSaid } from '../stage/useTimeSaid';
import { ClockFace, TimeShape } from './ClockFace';
import { beginsWith, hearingsWords, setsOff } from './itemWords';
import type { Veil } from './frame';
import type { Label, Run } from './RecorderBar';

const BIG = 'flex-1 sm:flex-none sm:px-10';

/** A button, and under it what it sets off. */
function Step({ says, children }: { says: string | null; children: ReactNode }) {
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
      {children}
      {says && <p className="text-sm text-soft">{says}</p>}
    </div>
  );
}

/** Until the microphone records: hear, prepare, begin. One thing to press at a time, and what it sets off. */
export function BeforeBar({
  item,
  run,
  label,
  veil,
  onBegin,
}: {
  item: Item;
  run: Run;
  label: Label;
  veil: Veil | null;
  /** Begins what comes first: the prompt, or the time to prepare. */
  onBegin: () => void;
}): ReactNode {
  const { state, starting } = run;
  const isAutomatic = item.startsBy === 'itself';
  const prepareLeftMs = state.phase === 'prepare' ? (state.remainingMs ?? 0) : null;
  useTimeSaid(prepareLeftMs, t('Preparing'));
  const answerNow = (
    <Step says={beginsWith(item)}>
      <Button look="main" big className={BIG} onClick={run.answerNow}>
        <Mic aria-hidden className="size-6" />{' '}
        {label('answer', isRun(item) ? t('Begin the conversation') : t('Answer now'))}
      </Button>
    </Step>
  );
  if (starting && state.phase !== 'prepare')
    return <p className="min-h-14 content-center text-xl">{t('It begins now …')}</p>;
  switch (state.phase) {
    case 'ready':
      if (veil?.isVoiced ?? item.promptRecordingId !== null)
        return (
          <Step says={[hearingsWords(item), setsOff(item, true)].filter(Boolean).join(' ')}>
            <Button look="main" big className={BIG} disabled={veil?.isShowing} onClick={onBegin}>
              <Play aria-hidden className="size-6" /> {label('hearPrompt', t('Hear the prompt'))}
            </Button>
          </Step>
        );
      if (item.prepareMs === 0) return answerNow;
      return (
        <Step says={setsOff(item, false)}>
          <Button look="main" big className={BIG} disabled={veil?.isShowing} onClick={onBegin}>
            {veil
              ? t('See it and prepare {{time}}', { time: clock(item.prepareMs) })
              : t('I have read it: prepare {{time}}', { time: clock(item.prepareMs) })}
          </Button>
        </Step>
      );
    case 'prompt':
      return (
        <p className="min-h-14 content-center border-s-4 border-saffron ps-4 text-xl">
          {t('The prompt is sounding. Listen …')}
        </p>
      );
    case 'heard':
      if (item.prepareMs === 0) return answerNow;
      return (
        <Step says={isAutomatic ? t('When that time is over, recording begins automatically.') : null}>
          <Button look="main" big className={BIG} onClick={() => run.beginPrepare()}>
            {label('prepare', '')
              ? `${label('prepare', '')} ${clock(item.prepareMs)}`
              : t('Prepare {{time}}', { time: clock(item.prepareMs) })}
          </Button>
        </Step>
      );
    case 'prepare':
      return (
        <>
          <div className="flex items-center gap-x-4 gap-y-2 low:flex-wrap">
            <ClockFace
              leftMs={prepareLeftMs!}
              limitMs={item.prepareMs}
              short
              says={
                isAutomatic
                  ? t('Prepare. Recording begins automatically in')
                  : t('Prepare. Then it is your turn:')
              }
              testId="prepare-left"
            />
            <Button
              className="ms-auto min-h-14 shrink-0 basis-1/2 px-3 leading-tight sm:basis-auto sm:px-8 low:basis-full"
              onClick={run.answerNow}
            >
              <Mic aria-hidden className="size-6 shrink-0" /> {t('I am ready: answer now')}
            </Button>
          </div>
          <TimeShape leftMs={prepareLeftMs!} limitMs={item.prepareMs} />
        </>
      );
    case 'yourTurn':
      return (
        <>
          {isAutomatic && (
            <p>{t('Your time to prepare is over. Your answer begins when you press the button.')}</p>
          )}
          {answerNow}
        </>
      );
    default:
      return null;
  }
}
