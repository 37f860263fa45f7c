import { useEffect, type ReactNode } from 'react';
import { Link } from 'react-router';
import { stripOf } from '@ecoute/core/timing/strip';
import type { TodoEntry } from '@ecoute/contract/sittings';
import { useMe } from '../../../base/useMe';
import { useTitle } from '../../../base/useTitle';
import { ButtonLink } from '../../../parts/Button';
import { Empty } from '../../../parts/Empty';
import { Failed, Loading } from '../../../parts/Loading';
import { StateWord } from '../../../parts/StateWord';
import { SmallStrip } from '../../../parts/strip/Strip';
import { lengthWords } from '../../../parts/lengthWords';
import { when } from '../../../parts/when';
import { KeepAddress } from '../../guest/KeepAddress';
import { useTodoQuery } from '../endpoints';
import { isOpenEntry as isOpen } from './openEntry';
import { t } from '../../../base/i18n';

/** The page is there, and can be pressed. */
const READ_AFTER_MS = 1_500;

/** The feedback asks for an answer that is not given yet. */
const isAsked = (e: TodoEntry) => e.asked > 0;

function Entry({ entry, heading: Heading }: { entry: TodoEntry; heading: 'h2' | 'h3' }) {
  const open = isOpen(entry);
  const talk = entry.discussion;
  const answered = new Set(entry.answeredItemIds);
  // Beside what there is to do still.
  const earlier = entry.feedbackSittingId && (
    <Link to={`/feedback/${entry.feedbackSittingId}`} className="mt-2 block underline underline-offset-4">
      {t('Hear the feedback')}
    </Link>
  );
  return (
    <li className="grid items-center gap-x-6 gap-y-3 bg-sheet px-5 py-4 md:grid-cols-[minmax(0,1fr)_minmax(10rem,20rem)_12rem]">
      <div className="min-w-0">
        <Heading dir="auto" className="text-lg font-semibold">
          {entry.title}
        </Heading>
        <p className="text-sm text-soft">
          {entry.className} ·{' '}
          {entry.extended
            ? t('due {{when}}, later for you', { when: when(entry.dueAt) })
            : t('due {{when}}', { when: when(entry.dueAt) })}{' '}
          · {talk ? t('a discussion') : lengthWords(stripOf(entry.outline.items).lengthMs)}
        </p>
        {entry.note && (
          <p dir="auto" className="mt-1">
            “{entry.note}”
          </p>
        )}
        <div className="mt-1">
          {entry.setAsideFor !== null ? (
            <span className="text-sm font-semibold">
              {t('You handed this in. It is set aside and does not count.')}
            </span>
          ) : (
            <StateWord
              state={entry.state}
              isTalk={talk !== null}
              late={entry.late}
              missing={entry.missing}
              excused={entry.excused}
              askedAgain={entry.askedAgainFor !== null}
            />
          )}
        </div>
        {entry.setAsideFor && (
          <p dir="auto" className="mt-1 border-s-4 border-saffron ps-3 whitespace-pre-wrap">
            {entry.setAsideFor}
          </p>
        )}
        {entry.askedAgainFor && (
          <p dir="auto" className="mt-1 border-s-4 border-saffron ps-3 whitespace-pre-wrap">
            {entry.askedAgainFor}
          </p>
        )}
        {entry.isAllowedAnother && entry.askedAgainFor === null && (
          <p className="mt-1 font-semibold">{t('Your teacher allows you another sitting.')}</p>
        )}
        {isAsked(entry) && <p className="mt-1 font-semibold">{t('Your teacher waits for your answer.')}</p>}
      </div>
      {talk ? (
        <p className="font-semibold">{talk.unheard > 0 && t('New to hear: {{n}}', { n: talk.unheard })}</p>
      ) : (
        <SmallStrip items={entry.outline.items} answered={answered} />
      )}
      <div className="md:text-end">
        {talk ? (
          <>
            <ButtonLink look={open ? 'main' : 'plain'} to={`/discussion/${entry.releaseId}`}>
              {entry.openness === 'closed' ? t('Hear it') : t('Take part')}
            </ButtonLink>
            {earlier}
          </>
        ) : open ? (
          <>
            <ButtonLink
              look="main"
              to={`/sit/${entry.releaseId}${entry.askedAgainFor !== null && !entry.goesOn ? '?another' : ''}`}
            >
              {entry.goesOn ? t('Go on') : entry.askedAgainFor !== null ? t('Do it again') : t('Begin')}
            </ButtonLink>
            {earlier}
          </>
        ) : entry.feedbackSittingId ? (
          <ButtonLink look={isAsked(entry) ? 'main' : 'plain'} to={`/feedback/${entry.feedbackSittingId}`}>
            {isAsked(entry) ? t('Answer the feedback') : t('Hear the feedback')}
          </ButtonLink>
        ) : entry.sittingId && entry.handedInAt ? (
          <ButtonLink to={`/sit/${entry.releaseId}`}>{t('See the receipt')}</ButtonLink>
        ) : (
          <span className="text-sm text-soft">{t('closed')}</span>
        )}
        {entry.notesOfSittingId && (
          <Link
            to={`/feedback/${entry.notesOfSittingId}`}
            className="mt-2 block underline underline-offset-4"
          >
            {t('Hear your teacher’s notes')}
          </Link>
        )}
        {entry.hearsOthers && (
          <Link to={`/others/${entry.releaseId}`} className="mt-2 block underline underline-offset-4">
            {t('Hear the others')}
          </Link>
        )}
        {!talk && !open && entry.mayBegin && entry.sittings > 0 && (
          <Link to={`/sit/${entry.releaseId}?another`} className="mt-2 block underline underline-offset-4">
            {t('Sit it once more')}
          </Link>
        )}
      </div>
    </li>
  );
}

/** A student's first page: what is to do, then what is done. @param children what stands before it */
export function TodoPage({ children }: { children?: ReactNode }) {
  const me = useMe();
  useTitle(t('Now'));
  const { data, error, isLoading, refetch } = useTodoQuery(undefined, {
    // What opens or closes by the clock is nobody's change.
    pollingInterval: 60_000,
    refetchOnMountOrArgChange: true,
  });
  // What comes next is made ready while nothing else is done: a slow phone takes half a second to read it.
  const isHere = data !== undefined;
  useEffect(() => {
    if (!isHere) return;
    const timer = setTimeout(() => void import('../SitPage').catch(() => undefined), READ_AFTER_MS);
    return () => clearTimeout(timer);
  }, [isHere]);
  if (isLoading) return <Loading height={96} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  // Somebody waits: that comes first, whenever it was due.
  const todo = [...data.filter(isAsked), ...data.filter(e => isOpen(e) && !isAsked(e))];
  const done = data.filter(e => !todo.includes(e)).reverse();
  return (
    <div className="grid grid-cols-1 gap-10">
      <section>
        <h1 className="text-3xl">{t('Now')}</h1>
        {children}
        <div className="mt-5">
          {todo.length === 0 ? (
            <Empty title={t('Nothing to record just now, {{name}}.', { name: me.displayName.split(' ')[0] })}>
              {t('When your teacher releases something, it appears here automatically.')}
            </Empty>
          ) : (
            <ul className="grid grid-cols-1 gap-px bg-line">
              {todo.map(e => (
                <Entry key={e.releaseId} entry={e} heading="h2" />
              ))}
            </ul>
          )}
        </div>
      </section>
      {me.isGuest && <KeepAddress />}
      {done.length > 0 && (
        <section>
          <h2 className="text-xl">{t('Done')}</h2>
          <ul className="mt-4 grid gap-px bg-line">
            {done.map(e => (
              <Entry key={e.releaseId} entry={e} heading="h3" />
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
