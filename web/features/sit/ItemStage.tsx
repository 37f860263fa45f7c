import { ArrowLeft, ArrowRight, Lightbulb, Coffee } from 'lucide-react';
import { useCallback, useEffect, useState, type ReactNode } from 'react';
import { phaseAt } from '@ecoute/core/timing/itemRun';
import { isInTurns, isRecorded, promptMs, stripOf } from '@ecoute/core/timing/strip';
import { lengthWords } from '../../parts/lengthWords';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import type { Item } from '@ecoute/contract/assessments';
import { drawnOn } from '@ecoute/contract/ink';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { SittingView } from '@ecoute/contract/sittings';
import { serverNow } from '../../base/clock';
import { Button } from '../../parts/Button';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import type { Microphone } from '../../parts/recorder/microphone';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { lazyPart } from '../../parts/lazyPart';
import { PromptWords } from '../../parts/PromptWords';
import { Strip } from '../../parts/strip/Strip';
import { answeredIds, stands } from './answered';
import { useIsPhone } from './device/device';
import { AnswerWithoutMicrophone } from './answers/AnswerWithoutMicrophone';
import type { Frame, StageParts } from './answers/frame';
import { useVeil } from './answers/useVeil';
import { rulesOf } from './answers/itemWords';
import { FileAnswer } from './answers/FileAnswer';
import { FilmedAnswer } from './answers/FilmedAnswer';
import { Material } from './Material';
import { isAskedOf, isSaid } from './judging/judging';
import { ReadToMe } from './ReadToMe';
import { useRehearsal } from './rehearsal/rehearsal';
import { SittingClock } from './SittingClock';
import { Stage } from './stage/Stage';
import { StageBar } from './stage/StageBar';
import { SelfJudgement } from './judging/SelfJudgement';
import { SpokenAnswer } from './answers/SpokenAnswer';
import { StandsAsItWas } from './answers/StandsAsItWas';
import type { Account } from './useAccount';
import { WrittenAnswer } from './answers/WrittenAnswer';
import { t } from '../../base/i18n';

const TurnsAnswer = lazyPart<{ sitting: SittingView; item: Item; frame: Frame; judging: ReactNode }>(
  () => import('./together/TurnsAnswer'),
);

function Hint({ item, open, onOpen }: { item: Item; open: boolean; onOpen: () => void }) {
  if (!item.hintText && !item.hintVoice) return null;
  if (!open)
    return (
      <Button className="mt-4" onClick={onOpen}>
        <Lightbulb aria-hidden className="size-5" /> {t('Open the hint')}
      </Button>
    );
  return (
    <div className="mt-4 flex flex-wrap items-center gap-3 border-s-4 border-saffron ps-4">
      {item.hintVoice && (
        <PlayButton
          track={trackOf(item.hintVoice.recordingId, t('Hint'), 'teacher', item.hintVoice.durationMs)}
          label={t('the hint')}
        />
      )}
      {item.hintText && <p className="min-w-0 flex-1 whitespace-pre-wrap">{item.hintText}</p>}
    </div>
  );
}

/** Passing on an item with dignity: said once, taken back as easily. */
function Passing({ passed, onPass, onBack }: { passed: boolean; onPass: () => void; onBack: () => void }) {
  return passed ? (
    <div className="grid gap-3 border-s-4 border-petrol bg-petrol-wash p-4">
      <p>{t('You passed on this item. That is a full answer; go on with the next.')}</p>
      <Button onClick={onBack}>{t('Answer it after all')}</Button>
    </div>
  ) : (
    <Button onClick={onPass}>{t('I pass on this one')}</Button>
  );
}

/** Why it is recorded again, in the teacher's words: there, where one works. */
export function AgainFor({ words }: { words: string }) {
  return (
    <div className="border-s-4 border-saffron bg-saffron-wash px-4 py-3">
      <p className="font-semibold">{t('Your teacher asked for this:')}</p>
      <p dir="auto" className="whitespace-pre-wrap">
        {words}
      </p>
    </div>
  );
}

/** Says to the page around an item whether it runs. */
function Tells({
  busy,
  itemId,
  onBusy,
}: {
  busy: boolean;
  itemId: string;
  onBusy: (itemId: string, busy: boolean) => void;
}) {
  useEffect(() => {
    onBusy(itemId, busy);
    return () => onBusy(itemId, false);
  }, [busy, itemId, onBusy]);
  return null;
}

/** What the teacher says on the way to an item: it asks for nothing. */
function OnTheWay({ item: { wordsBefore } }: { item: Item }) {
  if (!wordsBefore) return null;
  const { text, voice } = wordsBefore;
  return (
    <div className="mb-4 flex flex-wrap items-center gap-3 border-s-4 border-saffron bg-saffron-wash px-4 py-2">
      {voice && (
        <PlayButton
          track={trackOf(voice.recordingId, t('Your teacher'), 'teacher', voice.durationMs)}
          label={t('Your teacher')}
        />
      )}
      {text && (
        <p dir="auto" className="min-w-0 flex-1 whitespace-pre-wrap">
          {text}
        </p>
      )}
    </div>
  );
}

/** What is drawn on is looked at once. */
function withoutDrawnOn(item: Item): Item {
  const on = drawnOn(item);
  return on ? { ...item, stimuli: item.stimuli.filter(s => s.recordingId !== on) } : item;
}

/** One item, from its prompt to its answer. One thing to do at a time, and it is named on the button. */
export function ItemStage({
  sitting,
  index,
  account,
  microphone,
  onMove,
  onReview,
  onCheck,
  onBreak,
  onBusy,
  upAtMs,
}: {
  sitting: SittingView;
  index: number;
  account: Account;
  microphone: Microphone | null;
  onMove: (to: number) => void;
  onReview: () => void;
  /** Back to the microphone check. */
  onCheck: () => void;
  /** Begins a break; null where none is left, or no clock runs. */
  onBreak: (() => void) | null;
  /** Where all items are on one page: told when this one begins or ends to run. It shows no way to the others then. */
  onBusy?: (itemId: string, busy: boolean) => void;
  /** When the time of the whole sitting is up, by the server's clock; null where it has no limit. */
  upAtMs: number | null;
}) {
  const rehearsal = useRehearsal();
  const { items, sections } = sitting.content;
  const item = items[index]!;
  const deliveries = useDeliveries();
  const isPhone = useIsPhone();
  const strip = stripOf(items);
  const startMs = strip.stretches.find(s => s.itemIndex === index)?.startMs ?? 0;
  const state = phaseAt(item, account.ofItem(item.id), serverNow());
  const section = sections.find(s => s.id === item.sectionId);
  const last = index === items.length - 1;
  const carries = isNumbered(sitting.content.scoring.kind) ? carriedBy(sitting.content, item) : 0;
  const hint = <Hint item={item} open={state.hints > 0} onOpen={() => account.add('hintOpened', item.id)} />;
  const readAloud = () => account.add('readAloud', item.id);
  const isStanding = stands(sitting, item.id);
  const passing = item.passAllowed && !isStanding && item.answerBy !== 'nothing' && state.takesUsed === 0 && (
    <Passing
      passed={state.passed}
      onPass={() => account.add('passed', item.id)}
      onBack={() => account.add('passTakenBack', item.id)}
    />
  );

  const veil = useVeil(sitting, item, account, microphone !== null);
  const isVeiled = veil !== null;

  const { selfAssessment } = sitting.content;
  const [said, setSaid] = useState(isSaid(sitting.judgements[item.id]));
  const [heard, setHeard] = useState(said);
  const say = useCallback(() => setSaid(true), []);
  const hear = useCallback(() => setHeard(true), []);
  const asked = isAskedOf(sitting.content, item);
  // What is written, or a file, is there to be read at any time: only hearing oneself is waited for.
  const waits = selfAssessment === 'afterHearing' && isRecorded(item.answerBy) && !heard;
  const judging = !asked ? null : waits ? (
    <p className="text-soft">{t('Hear yourself; then say how it went.')}</p>
  ) : (
    <>
      {selfAssessment === 'beforeHearing' && isRecorded(item.answerBy) && !said && (
        <p>{t('Say first how it went; then you can hear yourself.')}</p>
      )}
      <SelfJudgement sitting={sitting} item={item} onSaid={say} />
    </>
  );

  const frame = (parts: StageParts) => {
    const { busy, done, position, under, answer, phase } = parts;
    const isDone = done || state.passed;
    const goesOn = isDone && !isPhone && !onBusy && !busy;
    const next = (
      <Button
        look={isDone ? 'main' : 'plain'}
        className={isDone ? 'ms-auto min-h-14 flex-1 px-3 sm:flex-none sm:px-8' : ''}
        disabled={busy}
        onClick={() => (last ? onReview() : onMove(index + 1))}
      >
        {last ? t('To the hand-in') : t('Item {{number}}', { number: index + 2 })}{' '}
        <ArrowRight aria-hidden className="size-5 rtl:-scale-x-100" />
      </Button>
    );
    const bar = (!state.passed && parts.bar) || null;
    return (
      <div className="grid grid-cols-1 gap-5">
        {onBusy ? (
          <Tells busy={busy} itemId={item.id} onBusy={onBusy} />
        ) : (
          <Strip
            items={items}
            current={item.id}
            answered={answeredIds(sitting, deliveries, account)}
            positionMs={startMs + position}
            onChoose={busy ? undefined : id => onMove(items.findIndex(i => i.id === id))}
            label={t('Where you are')}
          />
        )}
        <Stage
          isOn={busy}
          isRecording={parts.isRecording ?? false}
          isHeld={phase === 'paused'}
          isArriving={!onBusy}
          leadsAway={!isPhone && !rehearsal}
          label={t('Item {{number}} of {{total}}', { number: index + 1, total: items.length })}
          heading={
            <>
              {section?.title && `${section.title} · `}
              {t('Item {{number}} of {{total}}', { number: index + 1, total: items.length })}
              {carries > 0 && ` · ${t('{{count}} points', { count: carries })}`}
              {!item.required && item.answerBy !== 'nothing' && ` · ${t('may be left out')}`}
            </>
          }
          clockFace={upAtMs !== null && <SittingClock upAtMs={upAtMs} />}
          besideFirst={done && isRecorded(item.answerBy)}
          task={
            <>
              {!busy && !isStanding && <OnTheWay item={item} />}
              {parts.board}
              {isVeiled ? (
                <p className="mt-2 font-passage text-xl">
                  {t('You see what is asked when you begin. Your time runs from then on.')}
                </p>
              ) : (
                <PromptWords
                  item={parts.board ? withoutDrawnOn(item) : item}
                  big
                  onReadAloud={readAloud}
                  isOnStage={busy}
                />
              )}
              {!isVeiled && !item.promptRecordingId && !item.readAloudVoice && !busy && (
                <div className="mt-3">
                  <ReadToMe
                    words={item.promptText}
                    language={sitting.content.screenLanguage || undefined}
                    onRead={readAloud}
                  />
                </div>
              )}
              {under}
              {!busy && !isVeiled && hint}
              {!busy && !isStanding && <p className="mt-5 text-soft">{rulesOf(item)}</p>}
              {!busy && !isStanding && sitting.againFor && (
                <div className="mt-4">
                  <AgainFor words={sitting.againFor} />
                </div>
              )}
            </>
          }
          beside={
            <>
              {!(state.passed && passing) && answer}
              {!busy && passing}
            </>
          }
          bar={
            (bar || goesOn) && (
              <StageBar
                phase={phase}
                says={parts.says}
                isRecording={parts.isRecording ?? false}
                takesFocus={busy || phase === 'heard' || phase === 'yourTurn' || phase === 'review'}
              >
                {busy ? (
                  bar
                ) : (
                  <div className="flex flex-wrap items-center gap-3">
                    {bar}
                    {goesOn && next}
                  </div>
                )}
              </StageBar>
            )
          }
        />
        {!onBusy && (
          <div className="flex flex-wrap justify-between gap-3">
            {index > 0 ? (
              <Button disabled={busy} onClick={() => onMove(index - 1)}>
                <ArrowLeft aria-hidden className="size-5 rtl:-scale-x-100" />{' '}
                {t('Item {{number}}', { number: index })}
              </Button>
            ) : (
              <span />
            )}
            {onBreak && (
              <Button disabled={busy} onClick={onBreak}>
                <Coffee aria-hidden className="size-5" /> {t('Take a break')}
              </Button>
            )}
            {!isPhone && !goesOn && next}
          </div>
        )}
        {!isPhone && !onBusy && (
          <p className="text-sm text-soft">
            {t('The whole sitting lasts {{length}}. You can leave between items; what is recorded stays.', {
              length: lengthWords(strip.lengthMs),
            })}
          </p>
        )}
      </div>
    );
  };

  if (isStanding) return <StandsAsItWas sitting={sitting} item={item} frame={frame} />;
  if (item.answerBy === 'text')
    return <WrittenAnswer sitting={sitting} item={item} frame={frame} judging={judging} />;
  if (item.answerBy === 'file')
    return <FileAnswer sitting={sitting} item={item} frame={frame} judging={judging} />;
  if (item.answerBy === 'nothing') return <Material item={item} account={account} frame={frame} />;
  if (isInTurns(item) && !rehearsal && !isPhone)
    return <TurnsAnswer sitting={sitting} item={item} frame={frame} judging={judging} />;
  if (!microphone)
    return (
      <AnswerWithoutMicrophone
        sitting={sitting}
        item={item}
        account={account}
        frame={frame}
        judging={judging}
        onCheck={onCheck}
        veil={veil}
      />
    );
  const Answer = item.answerBy === 'audio' ? SpokenAnswer : FilmedAnswer;
  return (
    <Answer
      sitting={sitting}
      item={item}
      account={account}
      microphone={microphone}
      promptLengthMs={promptMs(item)}
      frame={frame}
      judging={judging}
      mayHear={selfAssessment !== 'beforeHearing' || said}
      onHeard={hear}
      upAtMs={upAtMs}
      veil={veil}
    />
  );
}
