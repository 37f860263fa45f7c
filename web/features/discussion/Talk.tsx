import { MessageSquarePlus } from 'lucide-react';
import { useCallback, useMemo, useState, type ReactNode } from 'react';
import type { Thread } from '@ecoute/core/discussions/talk';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { planOf, talkOf, topicsOf } from '@ecoute/contract/assessment/discussion';
import type { Contribution, Place } from '@ecoute/contract/discussions';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { PromptWords } from '../../parts/PromptWords';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { ContributionRow, type RowActs } from './ContributionRow';
import { whomOf, type Spoken } from './said';
import { Draft } from './speak/Draft';
import { draftsOf, type DraftSaid } from './speak/drafts';
import { Speak, type SpeaksBy } from './speak/Speak';
import { usePuttingIn } from './speak/usePuttingIn';

/** Where somebody is about to speak. */
interface Speaking {
  place: Place;
  /** Another press at the same place is another recording. */
  key: number;
  isAtOnce: boolean;
}

const isAt = (a: Place, b: Place) =>
  (a.correctsId ?? null) === (b.correctsId ?? null) &&
  (a.correctsId ? true : (a.parentId ?? null) === (b.parentId ?? null)) &&
  (a.correctsId || a.parentId ? true : (a.topicId ?? null) === (b.topicId ?? null));

/**
 * The discussion from top to bottom: the subject and each starting point with the threads that began there. One speaks
 * where one is; what is recorded and not in yet stands in its place.
 */
export function Talk({
  content,
  threads,
  contributions,
  by,
  mayBegin,
  maySpeak,
  takeBack,
  more,
  read,
  speaksAtOnce = false,
  shows = () => true,
}: {
  content: AssessmentContent;
  threads: readonly Thread<Spoken>[];
  contributions: readonly Contribution[];
  by: SpeaksBy;
  /** Threads may begin at the subject itself. */
  mayBegin: boolean;
  /** Something may be put in now. */
  maySpeak: boolean;
  takeBack: (c: Spoken) => void;
  more?: RowActs['more'];
  read: RowActs['read'];
  speaksAtOnce?: boolean;
  /** Which threads are in sight. */
  shows?: (thread: Thread<Spoken>) => boolean;
}) {
  const [speaking, setSpeaking] = useState<Speaking | null>(null);
  const [runningId, setRunningId] = useState<string | null>(null);
  const going = usePuttingIn();
  const deliveries = useDeliveries();
  const drafts = draftsOf(by.releaseId, contributions, deliveries, going, runningId);
  const speakAt = useCallback(
    (place: Place, isAtOnce = false) => setSpeaking(now => ({ place, key: (now?.key ?? 0) + 1, isAtOnce })),
    [],
  );
  const close = useCallback(() => setSpeaking(null), []);
  const acts: RowActs = useMemo(
    () => ({
      ...(maySpeak && {
        reply: (c: Spoken, moment?: { fromMs: number; toMs: number }) =>
          speakAt({ parentId: c.id, ...moment }, speaksAtOnce),
        correct: (c: Spoken) => speakAt({ correctsId: c.id, parentId: c.parentId, topicId: c.topicId }),
      }),
      takeBack,
      more,
      read,
    }),
    [maySpeak, speakAt, takeBack, more, read, speaksAtOnce],
  );
  const names = new Map(contributions.map(c => [c.id, whomOf(c)]));
  const labelOf = (place: Place): string => {
    if (place.correctsId) return t('Your correction');
    if (place.parentId) return t('Your reply to {{whom}}', { whom: names.get(place.parentId) ?? '…' });
    // Teachers' words: only they speak to one circle alone.
    return place.circle ? `Your contribution, for circle ${place.circle}` : t('Your contribution');
  };
  const pictureAllowed = planOf(content)?.pictureAllowed ?? false;
  const draftAt = (draft: DraftSaid) => (
    <Draft
      key={draft.id}
      draft={draft}
      by={by}
      pictureAllowed={pictureAllowed && by.door === 'discussion'}
      label={labelOf(draft.place)}
      onAgain={() => speakAt(draft.place)}
    />
  );
  /** What is being said, and was recorded, at a place. */
  const saidAt = (place: Place): ReactNode => {
    const own = drafts.filter(d => isAt(d.place, place));
    const isHere = speaking !== null && isAt(speaking.place, place);
    if (own.length === 0 && !isHere) return null;
    return (
      <div className="grid gap-2">
        {isHere && (
          <Speak
            key={speaking.key}
            by={by}
            place={speaking.place}
            label={labelOf(speaking.place)}
            isAtOnce={speaking.isAtOnce}
            onRunning={setRunningId}
            onClose={close}
          />
        )}
        {own.map(draftAt)}
      </div>
    );
  };
  const talk = talkOf(content);
  const shownIds = new Set(threads.flatMap(thread => thread.in.map(p => p.said.id)));
  // Its parent is in sight no more: what was said to it is not lost.
  const homeless = drafts.filter(d => {
    const at = d.place.correctsId ?? d.place.parentId;
    return at != null && !shownIds.has(at);
  });
  // Its name begins with the words that are seen, for whoever commands it by voice.
  const begin = (topicId: string | null, where: string) =>
    maySpeak && (
      <Button
        className="justify-self-start"
        onClick={() => speakAt({ topicId, ...(by.circle && { circle: by.circle }) }, speaksAtOnce)}
        aria-label={`${t('Begin a thread here')}: ${where}`}
      >
        <MessageSquarePlus aria-hidden className="size-5" /> {t('Begin a thread here')}
      </Button>
    );
  const threadsAt = (topicId: string | null) => {
    const own = threads.filter(thread => thread.topicId === topicId && shows(thread));
    return own.length === 0 ? null : (
      <ol className="grid grid-cols-1 gap-3">
        {own.map(thread => {
          const byId = new Map(thread.in.map(p => [p.said.id, p.said]));
          return (
            <li key={thread.root.id}>
              <ol className="grid grid-cols-1 gap-px">
                {thread.in.map(({ said, depth }) => (
                  <ContributionRow
                    key={said.id}
                    said={said}
                    depth={depth}
                    to={(said.parentId && byId.get(said.parentId)) || null}
                    acts={acts}
                  >
                    {saidAt({ parentId: said.id })}
                    {said.isMine && saidAt({ correctsId: said.id })}
                  </ContributionRow>
                ))}
              </ol>
            </li>
          );
        })}
      </ol>
    );
  };
  return (
    <div className="grid grid-cols-1 gap-8">
      {homeless.length > 0 && <div className="grid gap-2">{homeless.map(draftAt)}</div>}
      {talk && (
        <section aria-label={t('The subject')} className="grid grid-cols-1 gap-3">
          <div className="bg-sheet px-4 py-3">
            <PromptWords item={talk} big />
            {talk.promptRecordingId && !talk.promptIsVideo && (
              <div className="mt-2">
                <PlayButton
                  track={trackOf(talk.promptRecordingId, t('The subject'), 'teacher', talk.promptDurationMs)}
                  label={t('the subject')}
                />
              </div>
            )}
          </div>
          {mayBegin && begin(null, t('The subject'))}
          {saidAt({ topicId: null })}
          {threadsAt(null)}
        </section>
      )}
      {topicsOf(content).map((topic, n) => (
        <section
          key={topic.id}
          aria-label={t('Starting point {{number}}', { number: n + 1 })}
          className="grid grid-cols-1 gap-3"
        >
          <div className="bg-sheet px-4 py-3">
            <p className="text-sm text-soft">{t('Starting point {{number}}', { number: n + 1 })}</p>
            <PromptWords item={topic} />
            {topic.promptRecordingId && !topic.promptIsVideo && (
              <div className="mt-2">
                <PlayButton
                  track={trackOf(
                    topic.promptRecordingId,
                    t('Starting point {{number}}', { number: n + 1 }),
                    'teacher',
                    topic.promptDurationMs,
                  )}
                  label={t('Starting point {{number}}', { number: n + 1 })}
                />
              </div>
            )}
          </div>
          {begin(topic.id, t('Starting point {{number}}', { number: n + 1 }))}
          {saidAt({ topicId: topic.id })}
          {threadsAt(topic.id)}
        </section>
      ))}
    </div>
  );
}
