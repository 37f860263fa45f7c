import { ArrowLeft, Check, Gift, Truck, UserRound } from 'lucide-react';
import { useState } from 'react';
import type { SpokenWord } from '@ecoute/core/voice/spokenWords';
import type { SittingView } from '@ecoute/contract/sittings';
import { t } from '../../../base/i18n';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { answeredIds, notTakenIds, stands } from '../answered';
import { handInDesk, useHandInWish } from '../handIn/handInDesk';
import { useTimesEnd } from '../handIn/useTimesEnd';
import { useRehearsal } from '../rehearsal/rehearsal';
import type { Account } from '../useAccount';
import { ChildFrame, Shape } from './ChildFrame';
import { useVoice } from './useVoice';

/** A place for each item: full or empty. The parcel gives all of it to the teacher, after one more press. */
export function ChildHandIn({
  sitting,
  account,
  timeUp,
  onBack,
  onLeave,
}: {
  sitting: SittingView;
  account: Account;
  timeUp: boolean;
  onBack: (index: number) => void;
  onLeave: () => void;
}) {
  const rehearsal = useRehearsal();
  const deliveries = useDeliveries();
  const wish = useHandInWish(sitting.id);
  const [isSure, setIsSure] = useState(false);
  const { items } = sitting.content;
  // What the server did not take is no answer: its place is empty, and is recorded again.
  const notTaken = notTakenIds(sitting, deliveries);
  const full = new Set([...answeredIds(sitting, deliveries, account)].filter(id => !notTaken.has(id)));
  const isMissing = items.some(i => i.required && i.answerBy !== 'nothing' && !full.has(i.id));
  const refusal = wish?.refusal ?? null;
  const isWanted = wish !== null && refusal === null;
  const give = () => {
    if (rehearsal) return rehearsal.onHandIn();
    handInDesk.want({
      sittingId: sitting.id,
      releaseId: sitting.releaseId,
      title: sitting.title,
      // Who cannot read the question has seen the empty places.
      withGaps: isMissing || timeUp,
      asTheyCame: timeUp || refusal?.code === 'recordingsAway',
      known: deliveries.filter(d => d.state === 'kept').map(d => d.sound.id),
    });
  };
  useTimesEnd(timeUp && !rehearsal, wish, give);
  const word: SpokenWord = isWanted
    ? 'waiting'
    : refusal
      ? 'help'
      : timeUp
        ? 'timeUp'
        : isSure
          ? 'sure'
          : isMissing
            ? 'missing'
            : 'give';
  const voice = useVoice([{ word }], word, sitting.content);
  const notYet = () => {
    setIsSure(false);
    handInDesk.takeBack(sitting.id);
  };
  const asksAgain = isSure || refusal !== null;
  return (
    <ChildFrame
      label={isWanted ? t('on its way …') : t('Ready to hand in?')}
      voice={voice}
      onLeave={isSure ? null : onLeave}
      step={word}
      actions={
        isWanted ? (
          !timeUp && <Shape icon={ArrowLeft} kind="plain" small label={t('Not yet')} onPress={notYet} />
        ) : asksAgain ? (
          <>
            {!timeUp && <Shape icon={ArrowLeft} kind="plain" label={t('Not yet')} onPress={notYet} />}
            <Shape icon={Check} kind="go" calls={!voice.isSpeaking} label={t('Hand in')} onPress={give} />
          </>
        ) : (
          !timeUp && (
            <Shape
              icon={Gift}
              kind="go"
              small={isMissing}
              calls={!isMissing && !voice.isSpeaking}
              label={t('Hand in')}
              onPress={() => setIsSure(true)}
            />
          )
        )
      }
    >
      {isWanted ? (
        <Truck
          aria-hidden
          className="size-32 animate-[calls_1.6s_ease-in-out_infinite] text-petrol-ink rtl:-scale-x-100"
        />
      ) : refusal ? (
        <div className="grid justify-items-center gap-4">
          <UserRound aria-hidden className="size-28 text-soft" />
          <p className="max-w-xl text-center">{t(refusal.message)}</p>
        </div>
      ) : isSure ? (
        <Gift aria-hidden className="size-40 text-petrol-ink" />
      ) : (
        <ol className="flex max-w-3xl flex-wrap justify-center gap-4">
          {items.map((item, index) => {
            const isFull = full.has(item.id);
            const picture = item.stimuli.find(s => s.kind === 'picture' && s.recordingId);
            const calls = !isFull && item.required && item.answerBy !== 'nothing';
            return (
              <li key={item.id}>
                <button
                  type="button"
                  aria-label={`${t('Item {{number}}', { number: index + 1 })}: ${isFull ? t('answered') : t('no answer yet')}`}
                  disabled={stands(sitting, item.id)}
                  onClick={() => {
                    voice.stop();
                    onBack(index);
                  }}
                  className={`relative grid size-24 place-items-center rounded-2xl border-4 text-2xl sm:size-28 ${
                    isFull ? 'border-petrol bg-petrol-wash' : 'border-dashed border-edge bg-sheet'
                  } ${calls ? 'calling' : ''}`}
                >
                  {picture ? (
                    <img
                      src={`/api/recordings/${picture.recordingId}/shown`}
                      alt=""
                      className={`size-full rounded-xl object-cover ${isFull ? '' : 'opacity-40'}`}
                    />
                  ) : (
                    <span aria-hidden>{index + 1}</span>
                  )}
                  {isFull && (
                    <span className="absolute end-1 bottom-1 grid size-8 place-items-center rounded-full bg-petrol-ink text-sheet">
                      <Check aria-hidden className="size-5" />
                    </span>
                  )}
                </button>
              </li>
            );
          })}
        </ol>
      )}
    </ChildFrame>
  );
}
