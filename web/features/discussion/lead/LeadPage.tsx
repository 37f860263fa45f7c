import { EyeOff, Eye, ListEnd, LogIn, Play, Users } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { threadsOf, unanswered, type Thread } from '@ecoute/core/discussions/talk';
import { planOf, talkOf, topicsOf } from '@ecoute/contract/assessment/discussion';
import type { LeadView } from '@ecoute/contract/discussions';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { useTitle } from '../../../base/useTitle';
import { Button, ButtonLink } from '../../../parts/Button';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { inTurn } from '../../../parts/player/inTurn';
import { Segments } from '../../../parts/Segments';
import { when } from '../../../parts/when';
import { lengthWords } from '../../../parts/lengthWords';
import { TALK_EXPORT_KINDS } from '@ecoute/contract/exports';
import { useMakeTalkExportMutation } from '../../results/exportEndpoints';
import { ChooseExport } from '../../results/TakeAlong';
import { useRemindMutation } from '../../release/guestEndpoints';
import { useLeadQuery, useLetInMutation, useShowAgainMutation } from '../endpoints';
import { Expected } from '../Expected';
import { lineOf, nameOf, threadsIn, type Spoken } from '../said';
import { Talk } from '../Talk';
import { useArrivals } from '../useArrivals';
import { useHearing } from '../useHearing';
import { useTakingBack } from '../useTakingBack';
import { CirclesDialog } from './CirclesDialog';
import { ExchangeMap } from './ExchangeMap';
import { HideDialog } from './HideDialog';
import { owes, People } from './People';
import { TalkPodcast } from './TalkPodcast';

type Shown = 'all' | 'new' | 'waiting' | 'unanswered';

function Lead({ view }: { view: LeadView }) {
  const { releaseId, content, contributions, people } = view;
  const plan = planOf(content)!;
  const talk = talkOf(content)!;
  useTitle(`Discussion: ${view.title}`);
  const threads = useMemo(() => threadsIn(content, contributions), [content, contributions]);
  const heard = useHearing('lead', releaseId, contributions);
  useArrivals('lead', releaseId);
  const [shown, setShown] = useState<Shown>('all');
  const [only, setOnly] = useState<string | null>(null);
  const [circle, setCircle] = useState(0);
  const [sharing, setSharing] = useState(false);
  const [taking, setTaking] = useState(false);
  const [make, making] = useMakeTalkExportMutation();
  const [hiding, setHiding] = useState<Spoken | null>(null);
  const { take, told } = useTakingBack('lead', releaseId, 'Taken back: nobody hears it any more.');
  const [letIn, lettingIn] = useLetInMutation();
  const [showAgain, showing] = useShowAgainMutation();
  const [remind, reminding] = useRemindMutation();
  const waiting = contributions.filter(c => c.state === 'waiting');
  const isNew = (c: Spoken) => !c.heard && (c.state === 'here' || c.state === 'waiting');
  const all = threads.flatMap(thread => thread.in.map(p => p.said));
  const fresh = lineOf(threads, isNew);
  const whole = lineOf(threads, c => c.state === 'here');
  // Those that nobody answered, of what stands.
  const quiet = useMemo(
    () =>
      new Set(
        unanswered(
          threadsOf(
            all.filter(c => c.state === 'here' && !c.isTeacher),
            topicsOf(content).map(i => i.id),
          ),
          Date.parse(view.now),
        ).map(thread => thread.root.id),
      ),
    [all, content, view.now],
  );
  const shows = (thread: Thread<Spoken>) => {
    const said = thread.in.map(p => p.said);
    if (circle > 0 && !said.some(s => s.circle === circle || s.circle === 0)) return false;
    if (only !== null && !said.some(s => s.author === only)) return false;
    if (shown === 'new') return said.some(isNew);
    if (shown === 'waiting') return said.some(s => s.state === 'waiting');
    if (shown === 'unanswered') return quiet.has(thread.root.id);
    return true;
  };
  const letInAll = async () => {
    for (const { id } of waiting)
      await letIn({ door: 'lead', releaseId, id })
        .unwrap()
        .catch(() => undefined);
  };
  const more = useCallback(
    (c: Spoken) =>
      c.isTeacher ? null : (
        <>
          {c.state === 'waiting' && (
            <Button className="me-2" onClick={() => void letIn({ door: 'lead', releaseId, id: c.id })}>
              <LogIn aria-hidden className="size-5" /> Let it in
            </Button>
          )}
          {c.state === 'hidden' ? (
            <Button
              look="quiet"
              className="!px-2"
              onClick={() => void showAgain({ door: 'lead', releaseId, id: c.id })}
            >
              <Eye aria-hidden className="size-5" /> Show it again
            </Button>
          ) : (
            (c.state === 'here' || c.state === 'waiting') && (
              <Button look="quiet" className="!px-2" onClick={() => setHiding(c)}>
                <EyeOff aria-hidden className="size-5" /> Hide it …
              </Button>
            )
          )}
        </>
      ),
    [letIn, releaseId, showAgain],
  );
  const silent = people.filter(p => owes(p, plan) !== '').length;
  const refusal = refusalOf(lettingIn.error) ?? refusalOf(showing.error) ?? refusalOf(reminding.error);
  const closed = view.openness === 'closed';
  return (
    <section className="grid grid-cols-1 gap-5">
      <header className="grid gap-1">
        <p className="text-sm text-soft">
          <Link to="/listen" className="underline underline-offset-4">
            Listen
          </Link>{' '}
          · {view.className}
        </p>
        <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
          <h1 dir="auto" className="text-2xl sm:text-3xl">
            {view.title}
          </h1>
          <span className="ms-auto flex flex-wrap gap-3">
            <ButtonLink to={`/listen/${releaseId}`}>Score what each one said</ButtonLink>
            <Button look="quiet" onClick={() => setTaking(true)}>
              Take it along …
            </Button>
            <TalkPodcast releaseId={releaseId} />
            <ButtonLink look="quiet" to={`/release/${releaseId}`}>
              {closed ? 'Open it again …' : 'Close it, or give more time …'}
            </ButtonLink>
          </span>
        </div>
        <p className="text-sm text-soft">
          Contributions by {when(view.contributeBy)}, replies by {when(view.dueAt)}
          {closed && ' · closed: nothing can be put in any more'}
          {view.namesHidden && ' · names are hidden until the feedback is given'}
        </p>
      </header>
      <div
        data-stays-above
        className="sticky top-0 z-20 -mx-4 flex flex-wrap items-center gap-3 bg-ground px-4 py-2"
      >
        {fresh.tracks.length > 0 ? (
          <Button look="main" onClick={() => inTurn.begin('Hear on', fresh.tracks)}>
            <ListEnd aria-hidden className="size-5" /> Hear on: {fresh.ids.length} new
          </Button>
        ) : (
          whole.tracks.length > 0 && (
            <Button onClick={() => inTurn.begin('From the top', whole.tracks)}>
              <Play aria-hidden className="size-5" /> Hear it from the top
            </Button>
          )
        )}
        <span role="status" className="text-sm text-soft">
          {fresh.tracks.length > 0
            ? lengthWords(fresh.ms)
            : all.length > 0
              ? 'nothing new'
              : 'nobody has said anything yet'}
        </span>
        {waiting.length > 0 && (
          <Button disabled={lettingIn.isLoading} onClick={() => void letInAll()}>
            <LogIn aria-hidden className="size-5" />
            {waiting.length === 1 ? 'Let the one that waits in' : `Let all ${waiting.length} in`}
          </Button>
        )}
        <span className="ms-auto flex flex-wrap gap-3">
          {view.circles.length > 1 && (
            <label className="flex items-center gap-2 text-sm">
              Circle
              <select
                value={circle}
                onChange={e => setCircle(Number(e.target.value))}
                className="min-h-11 border-2 border-edge bg-sheet px-2"
              >
                <option value={0}>all</option>
                {view.circles.map(n => (
                  <option key={n} value={n}>
                    {n}
                  </option>
                ))}
              </select>
            </label>
          )}
          <Segments
            label="Threads"
            value={shown}
            options={[
              { value: 'all', name: 'All' },
              { value: 'new', name: 'New' },
              ...(plan.moderated || waiting.length > 0
                ? [{ value: 'waiting' as const, name: `Waiting ${waiting.length}` }]
                : []),
              { value: 'unanswered', name: `Unanswered ${quiet.size}` },
            ]}
            onChange={setShown}
          />
        </span>
      </div>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <div className="grid grid-cols-1 gap-8 lg:grid-cols-[minmax(0,1fr)_28rem]">
        <div className="grid content-start gap-5">
          <Expected content={content} />
          {(only !== null || circle > 0) && (
            <p className="text-sm">
              Only threads {only !== null && `with ${people.find(p => p.author === only)?.name ?? ''}`}
              {circle > 0 && ` of circle ${circle}`}{' '}
              <button
                type="button"
                className="underline underline-offset-4"
                onClick={() => {
                  setOnly(null);
                  setCircle(0);
                }}
              >
                Show all
              </button>
            </p>
          )}
          <Talk
            content={content}
            threads={threads}
            contributions={contributions}
            by={{
              door: 'lead',
              releaseId,
              limitMs: Math.max(talk.answerLimitMs, LIMITS.voiceReplyMs),
              film: false,
              writtenAllowed: true,
              circle,
            }}
            mayBegin
            maySpeak
            takeBack={take}
            more={more}
            read={heard}
            speaksAtOnce
            shows={shows}
          />
        </div>
        <aside className="grid content-start gap-6">
          <section aria-labelledby="people" className="grid gap-3 bg-sheet px-4 py-3">
            <div className="flex flex-wrap items-baseline justify-between gap-3">
              <h2 id="people" className="text-lg">
                Who has spoken
              </h2>
              <Button look="quiet" className="!px-0" onClick={() => setSharing(true)}>
                <Users aria-hidden className="size-5" /> Circles …
              </Button>
            </div>
            <People people={people} plan={plan} circles={view.circles} only={only} onOnly={setOnly} />
            {silent > 0 && !closed && (
              <div className="flex flex-wrap items-center gap-3">
                <Button disabled={reminding.isLoading} onClick={() => void remind(releaseId)}>
                  Remind those who owe something
                </Button>
                {reminding.data && (
                  <span role="status" className="text-sm">
                    {reminding.data.sent} reminded by mail
                    {reminding.data.already > 0 && `, ${reminding.data.already} within the last hour already`}
                    {reminding.data.without.length > 0 &&
                      `; no mail address: ${reminding.data.without.join(', ')}`}
                  </span>
                )}
              </div>
            )}
          </section>
          <section aria-labelledby="exchanges" className="grid gap-3 bg-sheet px-4 py-3">
            <h2 id="exchanges" className="text-lg">
              Who answers whom
            </h2>
            <ExchangeMap people={people} said={all} />
          </section>
        </aside>
      </div>
      {taking && (
        <ChooseExport
          kinds={TALK_EXPORT_KINDS}
          says="What stands in the discussion; drafts and what is hidden stay here. It stays under Exports for a day."
          isBusy={making.isLoading}
          error={making.error}
          onMake={kind => make({ releaseId, kind }).unwrap()}
          onClose={() => setTaking(false)}
        />
      )}
      {sharing && <CirclesDialog view={view} onClose={() => setSharing(false)} />}
      {hiding && (
        <HideDialog
          releaseId={releaseId}
          id={hiding.id}
          name={nameOf(hiding)}
          onClose={() => setHiding(null)}
        />
      )}
      {told}
    </section>
  );
}

/** A discussion as its teacher leads it. */
export function LeadPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useLeadQuery(id, { refetchOnMountOrArgChange: true });
  if (isLoading) return <Loading rows={6} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return <Lead key={id} view={data} />;
}
