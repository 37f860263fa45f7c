import { Download, MessagesSquare } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { answersIn } from '@ecoute/core/timing/conversation';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { FeedbackItem, FeedbackView } from '@ecoute/contract/marking';
import type { Ask } from '@ecoute/contract/replies';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { Flag } from '../../parts/StateWord';
import { Film } from '../../parts/player/Film';
import { PinnedNotes } from '../../parts/player/PinnedNotes';
import { useSpokenInLine } from '../../parts/player/useSpokenInLine';
import { SpokenStretches } from '../../parts/player/SpokenStretches';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { player, usePeaks, usePositionOf } from '../../parts/player/usePlayer';
import { TurnAnswers } from '../../parts/player/TurnAnswers';
import { Waveform } from '../../parts/player/Waveform';
import { AnswerFile, isPlayable } from '../../parts/AnswerFile';
import { JudgementView } from '../../parts/JudgementView';
import { ModelAnswer } from '../../parts/ModelAnswer';
import { RubricView } from '../../parts/RubricView';
import { shortPrompt } from '../../parts/shortPrompt';
import { Stimuli } from '../../parts/stimuli/StimulusView';
import { lazyPart } from '../../parts/lazyPart';
import { Strip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { Words } from '../../parts/Words';
import { useHeardMutation, useFeedbackListQuery, useFeedbackQuery } from './endpoints';
import { FeedbackMarkups } from './FeedbackMarkups';
import { ownPart, withOwnPart } from './ownTalk';
import { ASKED, FeedbackAnswers } from './FeedbackAnswers';
import { screenLanguage, t } from '../../base/i18n';

const SpokenSheet = lazyPart(() => import('../../parts/ink/SpokenSheet'));

const OwnTalk = lazyPart(() => import('./OwnTalk'));

const OwnEvidence = lazyPart(() => import('../evidence/OwnEvidence'));

export function FeedbackListPage() {
  useTitle(t('Feedback'));
  const { data, error, isLoading, refetch } = useFeedbackListQuery(undefined, {
    pollingInterval: 60_000,
    refetchOnMountOrArgChange: true,
  });
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return (
    <section>
      <h1 className="text-3xl">{t('Feedback')}</h1>
      <div className="mt-5">
        {data.length === 0 ? (
          <Empty
            title={t('No feedback yet')}
            action={<ButtonLink to="/">{t('See what is to do')}</ButtonLink>}
          >
            {t('When your teacher gives something back, you hear and read it here.')}
          </Empty>
        ) : (
          <ul className="grid grid-cols-1 gap-px bg-line">
            {data.map(r => (
              <li key={r.sittingId}>
                <Link
                  to={`/feedback/${r.sittingId}`}
                  className="flex min-h-16 flex-wrap items-center gap-x-4 bg-sheet px-5 py-3 hover:bg-sunk"
                >
                  <span className="min-w-0 flex-1 basis-48">
                    <span className="block text-lg font-semibold">{r.title}</span>
                    <span className="text-sm text-soft">
                      {r.className} · {when(r.feedbackAt)}
                    </span>
                  </span>
                  {r.asked > 0 && <Flag icon={MessagesSquare} word={t('waits for your answer')} />}
                  {r.total && (
                    <span className="tabular text-lg">
                      {r.total.given} / {r.total.maximum}
                    </span>
                  )}
                </Link>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}

/** What was handed in first, with what was said of it, where it was recorded again on request. */
function First({ again, number }: { again: NonNullable<FeedbackItem['again']>; number: number }) {
  const { first, isOfFirst, recordedAt } = again;
  const name = t('your first recording of item {{number}}', { number });
  const track = first && trackOf(first.takeId, name, 'student', first.durationMs);
  return (
    <section aria-label={name} className="grid gap-2 border-s-4 border-edge ps-4">
      <p>
        {t('You recorded this again, {{when}}.', { when: when(recordedAt) })}{' '}
        {isOfFirst && t('What is said and scored here is of your first recording.')}
      </p>
      {track && (
        <>
          <div>
            <PlayButton track={track} label={name} text={t('The first')} />
          </div>
          <PinnedNotes notes={first.notes} track={track} label={t('Notes on {{what}}', { what: name })} />
        </>
      )}
    </section>
  );
}

/** What was said of the same item in earlier sittings. */
function Before({ before }: { before: FeedbackItem['before'] }) {
  if (before.length === 0) return null;
  return (
    <details>
      <summary className="flex min-h-11 cursor-pointer items-center">
        {t('What was said of this before ({{n}})', { n: before.length })}
      </summary>
      <ul className="grid gap-2 border-s-2 border-line ps-4">
        {before.map(b => (
          <li key={b.sittingId}>
            <Words text={b.comment} />
            <Link to={`/feedback/${b.sittingId}`} className="text-sm underline underline-offset-4">
              {b.title}, {when(b.feedbackAt)}
            </Link>
          </li>
        ))}
      </ul>
    </details>
  );
}

type AnswerProps = Parameters<typeof Answer>[0];

/** A part in a discussion: one contribution after the other, each with what was said of it. */
function Talk({ feedback, releaseId, ...rest }: AnswerProps & { releaseId: string }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const part = ownPart(feedback, chosen);
  return (
    <Answer {...rest} feedback={withOwnPart(feedback, chosen)}>
      <OwnTalk
        talk={feedback.talk!}
        chosen={part?.id ?? null}
        releaseId={releaseId}
        onChoose={id => {
          setChosen(id);
          const next = ownPart(feedback, id);
          if (next?.takeId) void player.play(trackOf(next.takeId, t('You'), 'student', next.durationMs));
        }}
      />
    </Answer>
  );
}

function Answer({
  sittingId,
  askedAgain,
  content,
  item,
  index,
  feedback,
  children,
}: {
  sittingId: string;
  askedAgain: boolean;
  content: AssessmentContent;
  item: Item;
  index: number;
  feedback: FeedbackItem;
  /** What there is to choose from, where the answer has several parts. */
  children?: ReactNode;
}) {
  const carries = carriedBy(content, item);
  const { rubric } = content.scoring;
  const played = isPlayable(feedback.medium);
  const peaks = usePeaks(played ? feedback.takeId : null, feedback.durationMs);
  const position = usePositionOf(feedback.takeId);
  const inLine = useSpokenInLine(feedback.takeId && played ? feedback.takeId : null, feedback.notes);
  const name = t('your answer to item {{number}}', { number: index + 1 });
  // Heard, for the teacher: the recording was played to a note or on, or there is nothing of it to play.
  const [tellHeard] = useHeardMutation();
  const isHeard = position !== null && position > 1_000;
  useEffect(() => {
    if (isHeard && !askedAgain) void tellHeard({ sittingId, itemId: item.id });
  }, [isHeard, askedAgain, sittingId, item.id, tellHeard]);
  const track =
    feedback.takeId && played
      ? trackOf(feedback.takeId, t('Item {{number}}', { number: index + 1 }), 'student', feedback.durationMs)
      : null;
  return (
    <li className="grid grid-cols-1 gap-4 bg-sheet p-5">
      <div className="flex items-start gap-4">
        <span className="text-xl font-semibold">{index + 1}</span>
        <p dir="auto" className="min-w-0 flex-1 font-passage text-lg">
          {shortPrompt(item)}
        </p>
        {carries > 0 &&
          (isNumbered(content.scoring.kind) ? (
            <span className="tabular text-xl whitespace-nowrap">
              {feedback.points ?? (feedback.takeId || feedback.written !== null ? '–' : 0)} / {carries}
            </span>
          ) : (
            <span className="text-lg whitespace-nowrap">
              {feedback.points === null ? '' : feedback.points > 0 ? t('done') : t('not done')}
            </span>
          ))}
      </div>
      {feedback.praise.length > 0 && (
        <ul aria-label={t('Praise')} className="flex flex-wrap gap-2">
          {feedback.praise.map(words => (
            <li
              key={words}
              dir="auto"
              className="border-2 border-saffron bg-saffron-wash px-3 py-1 font-semibold"
            >
              {words}
            </li>
          ))}
        </ul>
      )}
      {feedback.comment && (
        <blockquote className="border-s-4 border-saffron bg-saffron-wash px-4 py-3">
          <Words text={feedback.comment} />
          {feedback.authorName && (
            <footer className="mt-1 text-sm text-saffron-ink">{feedback.authorName}</footer>
          )}
        </blockquote>
      )}
      <Stimuli stimuli={item.stimuli} />
      {item.promptRecordingId && item.promptIsVideo && (
        <Film id={item.promptRecordingId} label={t('The film of prompt {{number}}', { number: index + 1 })} />
      )}
      {feedback.takeId && item.sheet && (
        <SpokenSheet takeId={feedback.takeId} durationMs={feedback.durationMs} />
      )}
      {feedback.takeId && (
        <AnswerFile
          takeId={feedback.takeId}
          medium={feedback.medium}
          fileName={feedback.fileName}
          name={t('your answer to item {{number}}', { number: index + 1 })}
        />
      )}
      {children}
      {feedback.together && feedback.together.names.length > 0 && (
        <p dir="auto" className="text-soft">
          {t('together with {{names}}', { names: feedback.together.names.join(', ') })}
        </p>
      )}
      {track && feedback.together && (
        <SpokenStretches track={track} stretches={feedback.together.stretches} />
      )}
      {track ? (
        <div className="flex flex-wrap items-center gap-3">
          {item.promptRecordingId && (
            <PlayButton
              track={trackOf(
                item.promptRecordingId,
                t('Prompt {{number}}', { number: index + 1 }),
                'teacher',
                item.promptDurationMs,
              )}
              label={t('the prompt of item {{number}}', { number: index + 1 })}
              text={t('Prompt')}
            />
          )}
          <PlayButton track={track} label={name} text={t('You')} />
          <div className="min-w-40 flex-1">
            <Waveform
              peaks={peaks}
              positionMs={position}
              voice="student"
              height={64}
              stretches={isRun(item) ? answersIn(item.turns, feedback.placed) : undefined}
              notes={feedback.notes}
              label={name}
              onSeek={ms => {
                player.load(track);
                player.seek(ms);
              }}
            />
          </div>
          <span className="tabular text-sm">{clock(feedback.durationMs ?? 0)}</span>
          {feedback.notes.length > 0 && (
            <div className="grid w-full gap-2">
              {inLine.sounding && (
                <p
                  role="status"
                  className="flex flex-wrap items-center gap-3 border-s-4 border-saffron bg-saffron-wash px-3 py-1"
                >
                  {t('{{name}} speaks; your recording waits.', { name: inLine.sounding.authorName })}
                  <Button onClick={inLine.skip}>{t('Go on')}</Button>
                </p>
              )}
              <PinnedNotes
                notes={feedback.notes}
                track={track}
                label={t('Notes on your answer to item {{number}}', { number: index + 1 })}
              />
              <a
                href={`/api/takes/${track.id}/notes.vtt`}
                download={`${t('notes')}-${index + 1}.vtt`}
                className="inline-flex min-h-11 items-center gap-2 justify-self-start text-sm underline underline-offset-4"
              >
                <Download aria-hidden className="size-5" /> {t('Keep these notes as a file (WebVTT)')}
              </a>
            </div>
          )}
          {isRun(item) && (
            <div className="w-full">
              <TurnAnswers item={item} track={track} placed={feedback.placed} />
            </div>
          )}
        </div>
      ) : (
        item.answerBy !== 'nothing' &&
        !feedback.takeId &&
        (feedback.written !== null ? (
          <p className="border-s-4 border-petrol bg-petrol-wash px-4 py-3 font-passage whitespace-pre-wrap">
            {feedback.written}
          </p>
        ) : (
          <p className="text-soft">
            {feedback.stands
              ? t('This answer stands as it was.')
              : feedback.passed
                ? t('You passed on this item.')
                : t('You gave no answer to this item.')}
          </p>
        ))
      )}
      {feedback.again && <First again={feedback.again} number={index + 1} />}
      <ModelAnswer item={item} number={index + 1} />
      <FeedbackMarkups item={item} feedback={feedback} track={track} />
      <FeedbackAnswers
        sittingId={sittingId}
        itemId={item.id}
        asks={feedback.asks}
        replies={feedback.replies}
      />
      {rubric && content.scoring.kind === 'rubric' && feedback.choices.length > 0 && (
        <RubricView rubric={rubric} choices={feedback.choices} />
      )}
      {feedback.judgement && (
        <JudgementView scoring={content.scoring} judgement={feedback.judgement} title={t('You said:')} />
      )}
      {track &&
        (content.evidenceOpens === 'atOnce' || (content.evidenceOpens === 'afterReturn' && !askedAgain)) && (
          <OwnEvidence track={track} item={item} />
        )}
      <Before before={feedback.before} />
    </li>
  );
}

/** What the teacher waits for, and the way to each: it stands after what is to be heard for it. */
function Waiting({ data }: { data: FeedbackView }) {
  const isOpen = (ask: Ask) => ask.answeredAt === null;
  const waits = [
    ...data.items.flatMap((item, i) =>
      item.asks.filter(isOpen).map(ask => ({ ask, where: t('Item {{number}}', { number: i + 1 }) })),
    ),
    ...data.asks.filter(isOpen).map(ask => ({ ask, where: t('The whole') })),
  ];
  if (waits.length === 0) return null;
  return (
    <nav
      aria-label={t('Answer your teacher')}
      className="border-s-4 border-saffron bg-saffron-wash px-4 py-2"
    >
      <p className="font-semibold">{t('Your teacher waits for your answer.')}</p>
      <ul>
        {waits.map(({ ask, where }) => (
          <li key={ask.id}>
            <a
              href={`#ask-${ask.id}`}
              className="inline-flex min-h-11 items-center underline underline-offset-4"
            >
              {where}: {t(ASKED[ask.kind])}
            </a>
          </li>
        ))}
      </ul>
    </nav>
  );
}

/** The own recording, the points and the teacher's words, item by item. */
export function FeedbackPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useFeedbackQuery(id);
  useTitle(data?.title ?? t('Feedback'));
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const isTalk = data.items.some(i => i.talk);
  const answered = new Set(data.items.filter(i => i.takeId || i.written !== null).map(i => i.itemId));
  return (
    <section className="grid grid-cols-1 gap-5">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <div>
          <p className="text-soft">
            <Link to="/feedback" className="underline underline-offset-4">
              {t('Feedback')}
            </Link>{' '}
            · {data.className}
          </p>
          <h1 dir="auto" className="text-2xl sm:text-3xl">
            {data.title}
          </h1>
          <p className="text-sm text-soft">
            {data.handedInAt === null || data.feedbackAt === null
              ? t('Still under way: what your teacher says of it so far.')
              : t('Handed in {{handedIn}}, feedback {{feedback}}', {
                  handedIn: when(data.handedInAt),
                  feedback: when(data.feedbackAt),
                })}{' '}
            {data.late && <Flag word={t('late')} />}
          </p>
        </div>
        {data.total && (
          <p className="ms-auto">
            <span className="tabular text-4xl">{data.total.given}</span>
            <span className="tabular text-xl text-soft">
              {' '}
              / {t('{{count}} points', { count: data.total.maximum })}
            </span>
            {data.enough !== null && (
              <span className="block text-end text-sm">
                {data.enough ? t('The pass mark is reached.') : t('Below the pass mark.')}
              </span>
            )}
          </p>
        )}
        {data.level && (
          <p className="ms-auto max-w-md">
            <span className="block text-4xl font-semibold">{data.level.name}</span>
            <span className="text-sm text-soft">{data.level.descriptor}</span>
          </p>
        )}
      </div>
      {data.askedAgainFor !== null && (
        <div className="border-s-4 border-saffron bg-saffron-wash px-4 py-3">
          <p className="font-semibold">{t('To record again')}</p>
          <p dir="auto" className="whitespace-pre-wrap">
            {data.askedAgainFor}
          </p>
        </div>
      )}
      <Waiting data={data} />
      {!isTalk && <Strip items={data.content.items} answered={answered} />}
      <a
        href={`/api/sittings/${data.sittingId}/feedback.pdf?language=${screenLanguage()}`}
        download
        className="inline-flex min-h-11 items-center gap-2 justify-self-start underline underline-offset-4"
      >
        <Download aria-hidden className="size-5" /> {t('Keep all of this on paper (PDF)')}
      </a>
      <ol className="grid grid-cols-1 gap-px bg-line">
        {data.content.items.map((item, i) => {
          const shown = {
            sittingId: data.sittingId,
            askedAgain: data.askedAgainFor !== null || data.handedInAt === null,
            content: data.content,
            item,
            index: i,
            feedback: data.items[i]!,
          };
          if (shown.feedback.talk) return <Talk key={item.id} {...shown} releaseId={data.releaseId} />;
          // Starting points are in the discussion; nobody answered them one by one.
          return isTalk ? null : <Answer key={item.id} {...shown} />;
        })}
      </ol>
      <FeedbackAnswers sittingId={data.sittingId} itemId={null} asks={data.asks} replies={data.replies} />
    </section>
  );
}
