import { useEffect, useRef, useState } from 'react';
import { Link, Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { directionOf } from '@ecoute/core/formats/languages';
import { ORDINARY } from '@ecoute/core/timing/arrangements';
import { brokenMs, timeUpAt } from '@ecoute/core/timing/sittingClock';
import { isRecorded, stripOf } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import { lengthWords } from '../../parts/lengthWords';
import type { BegunSitting, SittingView } from '@ecoute/contract/sittings';
import type { TroubleCode } from '@ecoute/contract/trouble';
import { rememberedSitting, rememberSitting } from '../../base/offline';
import { refusalOf } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { lazyPart } from '../../parts/lazyPart';
import { Button } from '../../parts/Button';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Film } from '../../parts/player/Film';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { player } from '../../parts/player/usePlayer';
import { checkHolds, isAllowed } from '../../parts/recorder/heldCheck';
import { measureLoop } from '../../parts/recorder/micTest';
import { openMicrophone, type Microphone } from '../../parts/recorder/microphone';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { RichText } from '../../parts/RichText';
import { ScoringView } from '../../parts/RubricView';
import { Stimuli } from '../../parts/stimuli/StimulusView';
import { Strip, StripLegend } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { AllItems } from './AllItems';
import type { ChildStage, ChildStagesProps } from './child/ChildStages';
import { deviceId } from './device/device';
import { DeviceCheck } from './device/DeviceCheck';
import { HeldElsewhere } from './device/HeldElsewhere';
import { useBeginSittingMutation, useOpenSittingMutation, useSittingQuery } from './endpoints';
import { HandInStage } from './handIn/HandIn';
import { handInDesk, useHandInWish } from './handIn/handInDesk';
import { ReceiptStage } from './Receipt';
import { HowItGoes } from './HowItGoes';
import { fetchAhead } from './fetchAhead';
import { AgainFor, ItemStage } from './ItemStage';
import { answeredIds } from './answered';
import { useRehearsal } from './rehearsal/rehearsal';
import { soundsAlong } from './answers/soundsAlong';
import { SittingClock } from './SittingClock';
import { ReadToMe } from './ReadToMe';
import { useAccount } from './useAccount';
import { useHold } from './device/useHold';
import { useSittingLanguage } from './useSittingLanguage';
import { serverNow } from '../../base/clock';
import { useCountdown } from './answers/useCountdown';
import { t } from '../../base/i18n';

/** Nothing that asking again would change. */
const OVER = new Set<string>(['releaseClosed', 'noSittingLeft'] satisfies TroubleCode[]);

/** Fetched for those who sit by picture and sound. */
const ChildStages = lazyPart<ChildStagesProps>(() => import('./child/ChildStages'), { waiting: <Loading /> });

const ChildElsewhere = lazyPart<{ sitting: SittingView; onTakeOver: () => void }>(
  () => import('./child/ChildElsewhere'),
  { waiting: <Loading /> },
);

/** A page that was not touched yet may be kept from sounding; it is not waited for long. */
const SILENT_START_MS = 1_200;

type Stage =
  | { at: 'directions' }
  | { at: 'opening' }
  | { at: 'check' }
  | { at: 'item'; index: number }
  | { at: 'handIn' };

/** A sitting from the directions to the hand-in; also what a rehearsal runs. */
export function Sitting({ sitting }: { sitting: SittingView }) {
  const account = useAccount(sitting.id, sitting.events);
  const [microphone, setMicrophone] = useState<Microphone | null>(null);
  const rehearsal = useRehearsal();
  const navigate = useNavigate();
  const deliveries = useDeliveries();
  const handedIn = sitting.receipt !== null;
  const { items } = sitting.content;
  const strip = stripOf(items);
  const answered = answeredIds(sitting, deliveries, account);
  const firstOpen = Math.max(
    0,
    items.findIndex(i => !answered.has(i.id)),
  );
  const isAllAnswered = items.every(i => answered.has(i.id));
  const begun =
    sitting.takes.length > 0 ||
    answered.size > 0 ||
    sitting.clockBeganAt !== null ||
    account.openedAtMs !== null;
  const spoken = items.some(i => isRecorded(i.answerBy));
  const forMusic = sitting.subject === 'music';
  // Whoever comes back goes on where they were, where the microphone need not be looked at again.
  const goesOn = begun && sitting.receipt === null && !isAllAnswered && spoken && checkHolds(forMusic);
  const wish = useHandInWish(sitting.id);
  const [stage, setStage] = useState<Stage>({ at: goesOn ? 'opening' : 'directions' });
  // Wanted handed in on an earlier visit: that is where it goes on.
  const isWanted = wish !== null;
  useEffect(() => {
    if (isWanted && !handedIn) setStage({ at: 'handIn' });
  }, [isWanted, handedIn]);

  // The phone that records for it has gone on: so does this screen, unless something runs here.
  const { phoneAt } = account;
  const phoneWas = useRef(phoneAt);
  useEffect(() => {
    if (phoneWas.current === phoneAt) return;
    phoneWas.current = phoneAt;
    const index = items.findIndex(i => i.id === phoneAt);
    if (index >= 0 && document.querySelector('[data-stage=on]') === null)
      setStage(at => (at.at === 'item' ? { at: 'item', index } : at));
  }, [items, phoneAt]);

  // The limit of the whole sitting runs from the first sight of the items.
  const limitMs = sitting.content.sittingLimitMs;
  const clockBeganAtMs = sitting.clockBeganAt ? Date.parse(sitting.clockBeganAt) : account.openedAtMs;
  // The times of the content are extended already; only breaks are still to be granted.
  const granted = { ...ORDINARY, breakMs: sitting.arrangement.breakMs };
  const upAt = (nowMs: number) => timeUpAt(clockBeganAtMs, limitMs, granted, account.breaks, nowMs);
  const breakEndsAt = (nowMs: number) => nowMs + granted.breakMs - brokenMs(account.breaks, granted, nowMs);
  const isResting = account.breaks.at(-1)?.toMs === null;
  const now = useCountdown(sitting.receipt ? null : (isResting ? breakEndsAt : upAt)(serverNow()));
  const breakLeftMs = granted.breakMs - brokenMs(account.breaks, granted, now);
  const onBreak = isResting && breakLeftMs > 0;
  const upAtMs = upAt(now);
  const timeUp = upAtMs !== null && now >= upAtMs;
  const [open, opening] = useOpenSittingMutation();
  const toItem = (index: number) => {
    const go = () => {
      if (account.openedAtMs === null) account.add('itemsOpened');
      setStage({ at: 'item', index });
    };
    // Of a limited sitting the items come with the clock: the server sets it going, then shows them.
    if (!sitting.unseen) return go();
    void open(sitting.id)
      .unwrap()
      .then(go, () => setStage({ at: 'directions' }));
  };
  const notOpened = refusalOf(opening.error);

  const held = useRef(microphone);
  useEffect(() => {
    held.current = microphone;
  });
  useEffect(
    () => () => {
      held.current?.close();
      player.close();
    },
    [],
  );
  // Marks in the account that somebody came back to an open sitting.
  useEffect(() => {
    if (begun && !sitting.receipt) account.add('resumed');
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once a visit
  }, [sitting.id]);

  // Taken back after the hand-in: it goes on from the beginning, with everything that is there.
  useEffect(() => {
    if (!handedIn) return;
    setStage({ at: 'directions' });
    // Nobody is listened to on a receipt.
    held.current?.close();
    setMicrophone(null);
  }, [handedIn]);

  useEffect(() => {
    if (timeUp) setStage({ at: 'handIn' });
  }, [timeUp]);

  const playsAlong = items.some(soundsAlong);
  // A microphone that was heard today (or yesterday) is opened without being looked at again.
  const openHeld = async (startsWithinMs?: number): Promise<boolean> => {
    if (!checkHolds(forMusic) || !(await isAllowed())) return false;
    try {
      // Another microphone than the one that was heard is looked at, and called another one there.
      const opened = await openMicrophone(forMusic, undefined, startsWithinMs, false);
      if (left.current || !checkHolds(forMusic, opened.device)) {
        opened.close();
        return false;
      }
      // As it is open now: from one opening to the next the way of a sound is another one.
      if (playsAlong) await measureLoop(opened, 1).catch(() => false);
      if (left.current) {
        opened.close();
        return false;
      }
      setMicrophone(opened);
      return true;
    } catch {
      return false;
    }
  };
  const left = useRef(false);
  const begin = async () => {
    if (microphone || !spoken) return toItem(firstOpen);
    setStage({ at: 'opening' });
    if (await openHeld()) toItem(firstOpen);
    else setStage({ at: 'check' });
  };
  // The browser may keep a page from sounding before it is touched: then one press goes on.
  useEffect(() => {
    left.current = false;
    if (stage.at === 'opening') {
      void openHeld(SILENT_START_MS).then(isOpen => {
        if (handInDesk.now().wishes.some(w => w.sittingId === sitting.id)) return;
        if (isOpen) toItem(firstOpen);
        else setStage(at => (at.at === 'opening' ? { at: 'directions' } : at));
      });
    }
    return () => {
      left.current = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once a visit
  }, [sitting.id]);

  // A break that is used up ends automatically; the account says so.
  const usedUp = isResting && breakLeftMs <= 0;
  useEffect(() => {
    if (usedUp) account.add('breakEnded');
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each break
  }, [usedUp]);

  const runsOutAtMs = timeUp ? null : upAtMs;
  if (sitting.isByEar) {
    const at: ChildStage | { at: 'opening' } = sitting.receipt
      ? { at: 'done' }
      : onBreak
        ? { at: 'break' }
        : stage;
    // The microphone is on its way; or the clock runs, and the items are.
    if (at.at === 'opening' || (at.at === 'item' && sitting.unseen)) return <Loading />;
    return (
      <ChildStages
        sitting={sitting}
        stage={at}
        account={account}
        microphone={microphone}
        timeUp={timeUp}
        upAtMs={runsOutAtMs}
        trouble={notOpened ? t(notOpened.message) : null}
        onMicrophone={setMicrophone}
        onBegin={() => (isAllAnswered ? setStage({ at: 'handIn' }) : void begin())}
        onChecked={() => toItem(firstOpen)}
        onCheck={() => setStage({ at: 'check' })}
        onBreak={upAtMs !== null && breakLeftMs > 0 ? () => account.add('breakBegan') : null}
        onItem={index => {
          handInDesk.takeBack(sitting.id);
          toItem(index);
        }}
        onHandIn={() => setStage({ at: 'handIn' })}
        onGoOn={() => account.add('breakEnded')}
        onLeave={() => void navigate(rehearsal ? '..' : '/', { relative: 'path' })}
      />
    );
  }
  if (sitting.receipt) return <ReceiptStage sitting={sitting} receipt={sitting.receipt} />;
  const clockFace = runsOutAtMs !== null && <SittingClock upAtMs={runsOutAtMs} />;
  if (onBreak)
    return (
      <section className="mx-auto grid w-full max-w-2xl grid-cols-1 gap-4 bg-sheet p-5 sm:p-8">
        <h2 className="text-2xl">{t('A break')}</h2>
        <p>{t('The time of the sitting stands still. What you recorded is safe.')}</p>
        <p role="timer" aria-label={t('Time left for breaks')}>
          <span className="text-soft">{t('Time left for breaks')} </span>
          <span className="tabular text-xl">{clock(breakLeftMs + 999)}</span>
        </p>
        <Button look="main" big onClick={() => account.add('breakEnded')}>
          {t('Go on')}
        </Button>
      </section>
    );
  switch (stage.at) {
    case 'directions':
      return (
        <section className="mx-auto grid w-full grid-cols-1 max-w-3xl gap-5 bg-sheet p-5 sm:p-8">
          {clockFace}
          {sitting.againFor && <AgainFor words={sitting.againFor} />}
          {sitting.content.directionsVoice && (
            <div>
              <PlayButton
                track={trackOf(
                  sitting.content.directionsVoice.recordingId,
                  t('Directions'),
                  'teacher',
                  sitting.content.directionsVoice.durationMs,
                )}
                label={t('the directions')}
                text={t('Hear the directions')}
              />
            </div>
          )}
          {sitting.content.directionsVoice?.isVideo && (
            <Film id={sitting.content.directionsVoice.recordingId} label={t('The film of the directions')} />
          )}
          {sitting.content.directions && (
            <RichText
              doc={sitting.content.directionsRich}
              plain={sitting.content.directions}
              className="text-lg"
            />
          )}
          {!sitting.content.directionsVoice && (
            <ReadToMe
              words={sitting.content.directions}
              language={sitting.content.screenLanguage || undefined}
            />
          )}
          {sitting.content.otherDirections.map(d => (
            <div
              key={d.language}
              dir={directionOf(d.language)}
              className="flex flex-wrap items-start gap-3 border-s-4 border-saffron ps-4"
            >
              {d.voice && (
                <PlayButton
                  track={trackOf(d.voice.recordingId, t('Directions'), 'teacher', d.voice.durationMs)}
                  label={t('the directions')}
                />
              )}
              <p lang={d.language} className="min-w-0 flex-1 basis-60 text-lg whitespace-pre-wrap">
                {d.text}
              </p>
            </div>
          ))}
          <Stimuli stimuli={sitting.content.stimuli} />
          <ScoringView scoring={sitting.content.scoring} />
          <Strip items={items} />
          <StripLegend isOwn />
          <HowItGoes sitting={sitting} />
          <p>
            {t('{{count}} items', { count: items.length })}, {lengthWords(strip.lengthMs)}.{' '}
            {!rehearsal && (
              <>
                {t('Due:')} <strong>{when(sitting.dueAt)}</strong>.
                {sitting.openness === 'lateOpen' &&
                  ` ${t('That has passed: what you hand in is flagged as late.')}`}
              </>
            )}
            {limitMs !== null &&
              ` ${t('From the first item on you have {{length}}; then everything is handed in automatically.', { length: lengthWords(limitMs) })}`}
          </p>
          {notOpened && <Notice kind="trouble">{t(notOpened.message)}</Notice>}
          {isAllAnswered && (
            <>
              <p className="text-lg">{t('Everything is answered. Only handing in is left.')}</p>
              <Button look="main" big onClick={() => setStage({ at: 'handIn' })}>
                {t('To the hand-in')}
              </Button>
            </>
          )}
          <Button
            look={isAllAnswered ? 'plain' : 'main'}
            big={!isAllAnswered}
            disabled={opening.isLoading}
            onClick={() => void begin()}
          >
            {isAllAnswered
              ? t('Look at the items again')
              : begun
                ? t('Go on with item {{number}}', { number: firstOpen + 1 })
                : spoken
                  ? t('Check the microphone and begin')
                  : t('Begin')}
          </Button>
        </section>
      );
    case 'opening':
      return <Loading />;
    case 'check':
      return (
        <DeviceCheck
          forMusic={forMusic}
          microphone={microphone}
          onMicrophone={setMicrophone}
          playsAlong={playsAlong}
          onDone={() => toItem(firstOpen)}
          onWithout={rehearsal ? undefined : () => toItem(firstOpen)}
        />
      );
    case 'item':
      // The clock runs, and the items are on their way to this page.
      if (sitting.unseen) return <Loading />;
      return (
        <>
          {clockFace}
          {sitting.content.layout === 'all' ? (
            <AllItems
              sitting={sitting}
              account={account}
              microphone={microphone}
              first={stage.index}
              onReview={() => setStage({ at: 'handIn' })}
              onCheck={() => setStage({ at: 'check' })}
              onBreak={upAtMs !== null && breakLeftMs > 0 ? () => account.add('breakBegan') : null}
              upAtMs={runsOutAtMs}
            />
          ) : (
            <ItemStage
              key={items[stage.index]!.id}
              sitting={sitting}
              index={stage.index}
              account={account}
              microphone={microphone}
              onMove={toItem}
              onReview={() => setStage({ at: 'handIn' })}
              onCheck={() => setStage({ at: 'check' })}
              onBreak={upAtMs !== null && breakLeftMs > 0 ? () => account.add('breakBegan') : null}
              upAtMs={runsOutAtMs}
            />
          )}
        </>
      );
    case 'handIn':
      return (
        <>
          {clockFace}
          <HandInStage
            sitting={sitting}
            account={account}
            timeUp={timeUp}
            onBack={index => {
              // Whoever goes on does not want it handed in just now.
              handInDesk.takeBack(sitting.id);
              toItem(index);
            }}
          />
        </>
      );
  }
}

/** @param begun as the server has just answered; null where it did not */
function Loaded({ id, begun = null }: { id: string; begun?: BegunSitting | null }) {
  const { data: told, error, isLoading, isFetching, refetch } = useSittingQuery(id);
  const data = told ?? begun ?? undefined;
  const delivered = useDeliveries().filter(
    d => d.sound.place.sittingId === id && d.state === 'delivered',
  ).length;
  const worded = useSittingLanguage(data?.content);
  const { held, takeOver } = useHold(id, data !== undefined && data.receipt === null, begun?.hold ?? null);
  useTitle(data?.title ?? t('Sitting'));
  const open = data !== undefined && data.receipt === null;
  const content = data?.content;
  const unseen = data?.unseen ?? true;
  const hidden = data?.hidden.length ?? 0;
  useEffect(() => {
    if (open && content && !unseen) void fetchAhead(content);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each sitting, and for what is shown later
  }, [open, id, unseen, hidden]);
  // Each take that has arrived renews what the server says of the sitting.
  const renewed = useRef(0);
  useEffect(() => {
    // A question that is under way may have been answered before the take arrived: one more after it.
    if (isFetching || delivered === renewed.current) return;
    renewed.current = delivered;
    if (delivered > 0) void refetch();
  }, [delivered, isFetching, refetch]);
  if (!data && !isLoading) return <Failed error={error} again={() => void refetch()} />;
  if (!data || !worded) return <Loading />;
  return (
    <div className="grid grid-cols-1 gap-4">
      <div data-behind-stage>
        <p className="text-sm text-soft">
          <Link to="/" className="underline underline-offset-4">
            {t('Now')}
          </Link>{' '}
          · {data.className}
        </p>
        <h1 dir="auto" className="text-2xl sm:text-3xl">
          {data.title}
        </h1>
      </div>
      {data.receipt || held.state === 'mine' ? (
        <Sitting sitting={data} />
      ) : held.state === 'asking' ? (
        <Loading />
      ) : data.isByEar ? (
        <ChildElsewhere sitting={data} onTakeOver={takeOver} />
      ) : (
        <HeldElsewhere held={held} onTakeOver={takeOver} />
      )}
    </div>
  );
}

/** Begins (or goes on with) the sitting of a release. */
export function SitPage() {
  const { id = '' } = useParams();
  const [asks, setAsks] = useSearchParams();
  const another = asks.has('another');
  const [begin, { data, error, isLoading, isUninitialized }] = useBeginSittingMutation();
  // Without a network an open sitting goes on from what this device remembers of it.
  const away = error && 'status' in error && error.status === 0 && !another;
  const remembered = away ? rememberedSitting(id) : null;
  const asked = useRef<string | null>(null);
  useEffect(() => {
    if (asked.current === id) return;
    asked.current = id;
    void begin({ releaseId: id, another, deviceId: deviceId() })
      .unwrap()
      // From here on this address means the sitting that was begun, not one more.
      .then(sitting => {
        rememberSitting(id, sitting.id);
        if (another) setAsks({}, { replace: true });
      })
      .catch(() => undefined);
  }, [another, begin, id, setAsks]);
  if (isLoading || isUninitialized) return <Loading />;
  if (remembered) return <Loaded id={remembered} />;
  if (refusalOf(error)?.code === 'isDiscussion') return <Navigate to={`/discussion/${id}`} replace />;
  if (!data)
    return error && 'code' in error && OVER.has(String(error.code)) ? (
      <Notice kind="trouble">{t(String(error.message))}</Notice>
    ) : (
      <Failed error={error} again={() => void begin({ releaseId: id, another, deviceId: deviceId() })} />
    );
  return <Loaded id={data.id} begun={data} />;
}
