import { useMemo } from 'react';
import { Link, useParams } from 'react-router';
import { ListEnd, Play } from 'lucide-react';
import { lengthWords } from '../../parts/lengthWords';
import { planOf, talkOf } from '@ecoute/contract/assessment/discussion';
import type { DiscussionView } from '@ecoute/contract/discussions';
import { t } from '../../base/i18n';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { inTurn } from '../../parts/player/inTurn';
import { trackOf } from '../../parts/player/PlayButton';
import { when } from '../../parts/when';
import { useDiscussionQuery } from './endpoints';
import { Expected } from './Expected';
import { lineOf, threadsIn, type Spoken } from './said';
import { Talk } from './Talk';
import { useArrivals } from './useArrivals';
import { useHearing } from './useHearing';
import { useTakingBack } from './useTakingBack';

/** So much of so much that is asked; nothing where none is. */
function Asked({ given, asked, words }: { given: number; asked: number; words: string }) {
  return (
    <li>
      <span className="tabular text-lg font-semibold">
        {asked > 0 ? t('{{passed}} of {{limit}}', { passed: given, limit: asked }) : given}
      </span>{' '}
      {words}
    </li>
  );
}

/** Names that stand beside each other before they are counted. */
const MOST_NAMES = 4;

function Discussion({ view }: { view: DiscussionView }) {
  const { releaseId, content, contributions, given } = view;
  const plan = planOf(content)!;
  const talk = talkOf(content)!;
  useTitle(view.title);
  const threads = useMemo(() => threadsIn(content, contributions), [content, contributions]);
  const heard = useHearing('discussion', releaseId, contributions);
  useArrivals('discussion', releaseId);
  const { take, told } = useTakingBack(
    'discussion',
    releaseId,
    t('Taken back: nobody hears it any more. It stays among your recordings.'),
  );
  const isNew = (c: Spoken) => !c.heard && c.state === 'here';
  const fresh = lineOf(threads, isNew);
  const whole = lineOf(threads, c => c.state === 'here');
  // Whoever comes for the first time hears the welcome before anybody else.
  const isFirst = content.directionsVoice && !contributions.some(c => c.heard);
  const welcome = content.directionsVoice
    ? [
        trackOf(
          content.directionsVoice.recordingId,
          t('Welcome'),
          'teacher' as const,
          content.directionsVoice.durationMs,
        ),
      ]
    : [];
  const hearOn = () => inTurn.begin(t('Hear on'), [...(isFirst ? welcome : []), ...fresh.tracks]);
  const hearAll = () => inTurn.begin(t('From the top'), [...welcome, ...whole.tracks]);
  const unread = contributions.filter(c => !c.heard && c.state === 'here').length;
  return (
    <section className="grid grid-cols-1 gap-5">
      <header className="grid gap-2">
        <p className="text-sm text-soft">
          <Link to="/" className="underline underline-offset-4">
            {t('Now')}
          </Link>{' '}
          · {view.className}
        </p>
        <h1 dir="auto" className="text-2xl sm:text-3xl">
          {view.title}
        </h1>
        <ul className="flex flex-wrap gap-x-6 gap-y-1">
          <Asked
            given={given.contributions}
            asked={plan.contributionsAsked}
            words={
              plan.contributionsAsked > 0
                ? t('contributions, by {{when}}', { when: when(view.contributeBy) })
                : t('contributions')
            }
          />
          <Asked
            given={given.replies}
            asked={plan.repliesAsked}
            words={
              plan.repliesAsked > 0
                ? t('replies to others, by {{when}}', { when: when(view.dueAt) })
                : t('replies to others')
            }
          />
        </ul>
        {view.with.length > 0 && (
          <p className="text-sm text-soft">
            {view.with.length <= MOST_NAMES
              ? t('With {{names}}', { names: view.with.join(', ') })
              : t('With {{names}} and {{n}} more', {
                  names: view.with.slice(0, MOST_NAMES - 1).join(', '),
                  n: view.with.length - MOST_NAMES + 1,
                })}
          </p>
        )}
        {!plan.namesShown && (
          <p className="text-sm text-soft">{t('Names do not show here: your teacher sees them.')}</p>
        )}
        {plan.moderated && (
          <p className="text-sm text-soft">
            {t('Your teacher hears each contribution before the others do.')}
          </p>
        )}
      </header>
      {view.feedbackSittingId && (
        <ButtonLink look="main" className="justify-self-start" to={`/feedback/${view.feedbackSittingId}`}>
          {t('Hear the feedback')}
        </ButtonLink>
      )}
      {view.closedFor && <Notice>{t(view.closedFor)}</Notice>}
      <Expected content={content} />
      {view.behindOwn > 0 && (
        <Notice>
          {t(
            'Contributions of others that wait for you: {{n}}. You hear them once you have contributed yourself.',
            { n: view.behindOwn },
          )}
        </Notice>
      )}
      <div
        className="sticky top-0 z-20 -mx-4 flex flex-wrap items-center gap-3 bg-ground px-4 py-2"
        data-stays-above
      >
        {fresh.tracks.length > 0 ? (
          <Button look="main" onClick={hearOn}>
            <ListEnd aria-hidden className="size-5" />
            {t('Hear on: {{n}} new', { n: fresh.ids.length })}
          </Button>
        ) : (
          whole.tracks.length + welcome.length > 0 && (
            <Button look={isFirst ? 'main' : 'plain'} onClick={hearAll}>
              <Play aria-hidden className="size-5" /> {t('Hear it from the top')}
            </Button>
          )
        )}
        <span role="status" className="text-sm text-soft">
          {fresh.tracks.length > 0
            ? lengthWords(fresh.ms)
            : unread > 0
              ? t('New to read: {{n}}', { n: unread })
              : contributions.some(c => c.state === 'here')
                ? t('nothing new')
                : t('nobody has said anything yet')}
        </span>
      </div>
      <Talk
        content={content}
        threads={threads}
        contributions={contributions}
        by={{
          door: 'discussion',
          releaseId,
          limitMs: talk.answerLimitMs,
          film: talk.answerBy === 'video',
          writtenAllowed: plan.writtenAllowed,
        }}
        mayBegin={plan.ownSubjects}
        maySpeak={view.closedFor === null}
        takeBack={take}
        read={heard}
      />
      {told}
    </section>
  );
}

/** A discussion as somebody takes part in it. */
export function DiscussionPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useDiscussionQuery(id, { refetchOnMountOrArgChange: true });
  if (isLoading) return <Loading rows={6} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return <Discussion key={id} view={data} />;
}
