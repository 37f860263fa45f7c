import { useState } from 'react';
import { phaseAt } from '@ecoute/core/timing/itemRun';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { isGap, type SittingView } from '@ecoute/contract/sittings';
import { allKept } from '../../../base/kept/useKept';
import { serverNow } from '../../../base/clock';
import { Button } from '../../../parts/Button';
import { Confirm } from '../../../parts/Confirm';
import { Notice } from '../../../parts/Notice';
import { isPlayable } from '../../../parts/AnswerFile';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { useRehearsal } from '../rehearsal/rehearsal';
import { stands } from '../answered';
import { recorderLabel } from '../answers/recorderLabel';
import { isAskedOf, isSaid } from '../judging/judging';
import { useArrival } from '../stage/useArrival';
import { SelfJudgement } from '../judging/SelfJudgement';
import { counting, takesOf, type OwnTake } from '../takes/takesOf';
import { shortPrompt } from '../../../parts/shortPrompt';
import type { Account } from '../useAccount';
import { t } from '../../../base/i18n';
import { handInDesk, useHandInWish } from './handInDesk';
import { useTimesEnd } from './useTimesEnd';
import { Wanted } from './Wanted';

/** What stands at an item before the hand-in, in words. */
function Standing({ line }: { line: Line }) {
  if (line.coming) return <>{t('on its way …')}</>;
  if (line.away) return <strong>{t('recorded on another device, which does not send just now')}</strong>;
  if (line.take)
    return line.take.durationMs === null ? (
      <>{t('answered with a file')}</>
    ) : (
      <>
        {t('answered,')}{' '}
        <span className="tabular">{clock(Math.max(0, line.take.durationMs - line.take.leadMs))}</span>
        {line.take.silent && (
          <strong className="block">
            {t('Nothing can be heard in this take. Check that the microphone is not muted.')}
          </strong>
        )}
      </>
    );
  if (line.written) return <>{t('answered in writing')}</>;
  if (line.passed) return <>{t('passed')}</>;
  if (line.item.answerBy === 'nothing')
    return line.studied ? <>{t('gone through')}</> : <span className="text-soft">{t('not ticked yet')}</span>;
  return line.item.required ? (
    <strong>{t('no answer yet')}</strong>
  ) : (
    <span className="text-soft">{t('left out')}</span>
  );
}

interface Line {
  item: Item;
  take: OwnTake | null;
  /** There is more than one, and one of them counts. */
  several: boolean;
  coming: boolean;
  /** On another device, which does not send. */
  away: boolean;
  /** The server did not take something: it is on this device alone. */
  kept: boolean;
  written: boolean;
  passed: boolean;
  studied: boolean;
}

/** What the server knows by now of a student's own judgements. Asked anew: an answer that is on its way may be older. */
async function saidNow(sitting: SittingView): Promise<Pick<SittingView, 'judgements'>> {
  try {
    const response = await fetch(`/api/sittings/${sitting.id}`);
    return response.ok ? ((await response.json()) as SittingView) : sitting;
  } catch {
    return sitting;
  }
}

/** Each item's state before handing in; asks once when something is missing. */
export function HandInStage({
  sitting,
  account,
  timeUp,
  onBack,
}: {
  sitting: SittingView;
  account: Account;
  /** The limit of the whole sitting is over: it is handed in without being asked. */
  timeUp: boolean;
  onBack: (index: number) => void;
}) {
  const rehearsal = useRehearsal();
  const heading = useArrival<HTMLHeadingElement>();
  const deliveries = useDeliveries();
  const [asking, setAsking] = useState(false);
  const wish = useHandInWish(sitting.id);
  const lines = sitting.content.items.map((item): Line => {
    const takes = takesOf(item.id, sitting, deliveries);
    const state = phaseAt(item, account.ofItem(item.id), serverNow());
    return {
      item,
      take: counting(takes),
      several: takes.filter(t => t.stands).length > 1,
      coming: takes.some(t => t.status === 'onItsWay' || t.status === 'checking'),
      away: takes.some(t => t.status === 'away'),
      kept: takes.some(t => t.isKept),
      written: sitting.written.some(w => w.itemId === item.id),
      passed: item.passAllowed && state.passed,
      studied: state.studied,
    };
  });
  const onItsWay = lines.filter(l => l.coming).length;
  /** Indices of the items that should have an answer and have none. */
  const missing = lines.flatMap((l, i) =>
    l.item.required &&
    !stands(sitting, l.item.id) &&
    !l.coming &&
    isGap(l.item.answerBy, { takeId: l.take?.id ?? null, written: l.written, passed: l.passed })
      ? [i]
      : [],
  );
  const gaps = missing.length;
  /** Indices of answers of which their student was to say something, and has not; -1 for the whole. */
  const unsaidIn = ({ judgements }: Pick<SittingView, 'judgements'>) => [
    ...lines.flatMap((l, i) =>
      isAskedOf(sitting.content, l.item) &&
      !stands(sitting, l.item.id) &&
      (l.take || l.written) &&
      !isSaid(judgements[l.item.id])
        ? [i]
        : [],
    ),
    ...(isAskedOf(sitting.content, null) && !isSaid(judgements[sitting.id]) ? [-1] : []),
  ];
  /** It is asked for once. */
  const [isReminded, setIsReminded] = useState(false);
  const [unsaid, setUnsaid] = useState<number[]>([]);
  const next = async () => {
    if (gaps > 0 && !timeUp) return setAsking(true);
    if (!timeUp && !rehearsal && !isReminded && unsaidIn(sitting).length > 0) {
      setIsReminded(true);
      // What was said a moment ago may still be on its way, and is said all the same.
      await allKept();
      const still = unsaidIn(await saidNow(sitting));
      if (still.length > 0) return setUnsaid(still);
    }
    go(timeUp);
  };
  const refusal = wish?.refusal ?? null;
  const away = lines.filter(l => l.away).length;
  const isAway = refusal?.code === 'recordingsAway';
  const go = (withGaps: boolean, asTheyCame = false) => {
    if (rehearsal) return rehearsal.onHandIn();
    handInDesk.want({
      sittingId: sitting.id,
      releaseId: sitting.releaseId,
      title: sitting.title,
      withGaps,
      asTheyCame,
      known: deliveries.filter(d => d.state === 'kept').map(d => d.sound.id),
    });
  };
  const isWanted = wish !== null && wish.refusal === null;
  useTimesEnd(timeUp && !rehearsal, wish, () => go(true, true));

  return (
    <section className="mx-auto grid w-full grid-cols-1 max-w-2xl gap-5">
      <h2 ref={heading} tabIndex={-1} className="text-2xl">
        {timeUp ? t('The time of this sitting is up') : t('Ready to hand in?')}
      </h2>
      {timeUp && (
        <Notice>
          {t('Everything you recorded until now is being handed in. You need do nothing more.')}
        </Notice>
      )}
      <ol className="grid grid-cols-1 gap-px bg-line">
        {lines.map((line, i) => (
          <li
            key={line.item.id}
            className="flex min-h-16 flex-wrap items-center gap-x-4 gap-y-1 bg-sheet px-4 py-2"
          >
            <span className="text-lg font-semibold">{i + 1}</span>
            <span className="min-w-0 flex-1 basis-40 truncate font-passage">
              {shortPrompt(line.item) || t('Item {{number}}', { number: i + 1 })}
            </span>
            {line.take?.status === 'stored' &&
              isPlayable(line.take.medium) &&
              !rehearsal &&
              (sitting.content.selfAssessment !== 'beforeHearing' ||
                isSaid(sitting.judgements[line.item.id])) && (
                <PlayButton
                  track={trackOf(
                    line.take.id,
                    t('Item {{number}}', { number: i + 1 }),
                    'student',
                    line.take.durationMs,
                  )}
                  label={t('your answer to item {{number}}', { number: i + 1 })}
                />
              )}
            <span>
              <Standing line={line} />
              {line.several && line.take && (
                <span className="text-sm text-soft">
                  {' '}
                  ({t('{{take}} counts', { take: t('Take {{number}}', { number: line.take.number }) })})
                </span>
              )}
            </span>
            {!timeUp && (
              <Button look="quiet" onClick={() => onBack(i)}>
                {line.take || line.written || line.passed || line.item.answerBy === 'nothing'
                  ? t('Look at it')
                  : t('Answer it')}
              </Button>
            )}
          </li>
        ))}
      </ol>
      {!timeUp && isAskedOf(sitting.content, null) && (
        <div className="bg-sheet p-4">
          <SelfJudgement sitting={sitting} item={null} />
        </div>
      )}
      {isWanted && !timeUp && <Wanted sittingId={sitting.id} at={wish.at} isComing={onItsWay > 0} />}
      {isAway ? (
        <Notice
          kind="trouble"
          action={<Button onClick={() => go(gaps > 0, true)}>{t('Hand in with what has come')}</Button>}
        >
          {t(
            'Open Ecoute where you recorded it, and it goes on its way. If that is not possible, hand in with what has come of it.',
          )}
        </Notice>
      ) : (
        refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>
      )}
      {onItsWay > 0 && !isWanted && (
        <Notice>{t('Your recordings are still on their way. Handing in waits for them.')}</Notice>
      )}
      {onItsWay === 0 && away > 0 && !isAway && (
        <Notice>{t('Something was recorded on another device, which does not send just now.')}</Notice>
      )}
      {lines.some(l => l.kept) && (
        <Notice kind="trouble">
          {t('A recording was not taken and is on this device alone. Look at its item before you hand in.')}
        </Notice>
      )}
      {(!timeUp || refusal || rehearsal) && (
        <Button look="main" big disabled={isWanted} onClick={next}>
          {recorderLabel(sitting.content, 'handIn', t('Hand in'))}
        </Button>
      )}
      <Confirm
        open={unsaid.length > 0}
        onClose={() => setUnsaid([])}
        title={t('You have not said how it went')}
        yes={t('Hand in as it is')}
        no={t('Say it first')}
        onYes={() => go(false)}
        onNo={() => {
          if (unsaid[0] !== undefined && unsaid[0] >= 0) onBack(unsaid[0]);
        }}
      >
        <p>
          {unsaid.map(i => (i < 0 ? t('The whole') : t('Item {{number}}', { number: i + 1 }))).join(', ')}
        </p>
      </Confirm>
      <Confirm
        open={asking}
        onClose={() => setAsking(false)}
        title={t('{{count}} items have no answer', { count: gaps })}
        yes={t('Hand in as it is')}
        no={t('Go back and answer')}
        onYes={() => go(true)}
        onNo={() => onBack(missing[0] ?? 0)}
      >
        <p>{missing.map(i => t('Item {{number}}', { number: i + 1 })).join(', ')}</p>
        <p className="mt-2">
          {sitting.content.mayWithdraw
            ? t('You can take it back until it is due, as long as your teacher has not begun with it.')
            : t('After handing in you cannot record any more.')}
        </p>
      </Confirm>
    </section>
  );
}
