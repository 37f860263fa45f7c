import { Mail } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { clock } from '@ecoute/core/timing/words';
import { handedInOf, opennessAt } from '@ecoute/core/timing/sittingState';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { Reach, ReleaseDetail, ReleaseStudent } from '@ecoute/contract/releases';
import { refusalOf } from '../../base/api';
import { serverNow } from '../../base/clock';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Segments } from '../../parts/Segments';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { Flag, StateWord } from '../../parts/StateWord';
import { Strip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import {
  useChangeReleaseMutation,
  useChangeSeriesMutation,
  useCloseReleaseMutation,
  useFollowAssessmentMutation,
  useReleaseQuery,
  useTakeBackMutation,
} from './endpoints';
import { useClassQuery } from '../classes/endpoints';
import { useRemindMutation } from './guestEndpoints';
import { Links } from './Links';
import { hearingsWords, liveWords } from './liveWords';
import { StudentMenu } from './StudentMenu';
import { TermsFields } from './TermsFields';
import { browserZone, draftOf, standsWords, termsOf, timesOf } from './terms';

/** Changes when and how a release takes place. */
function ChangeTerms({
  release,
  onDone,
}: {
  release: ReleaseDetail;
  /** Kept, or left; with what was changed where more than this one was. */
  onDone: (words?: string) => void;
}) {
  const zone = browserZone();
  const [draft, setDraft] = useState(() => draftOf(release, zone));
  const [change, changing] = useChangeReleaseMutation();
  const [changeSeries, together] = useChangeSeriesMutation();
  const [reach, setReach] = useState<Reach>('this');
  const meant = termsOf(draft, zone);
  const refusal = refusalOf(changing.error) ?? refusalOf(together.error);
  return (
    <form
      className="grid max-w-3xl gap-5 border-2 border-ink bg-sheet p-5"
      onSubmit={event => {
        event.preventDefault();
        if (!meant.terms) return;
        if (reach === 'this')
          return void change({ id: release.id, ...meant.terms })
            .unwrap()
            .then(
              () => onDone(),
              () => undefined,
            );
        const opensAt = meant.terms.opensAt ?? release.opensAt;
        void changeSeries({ id: release.id, reach, ...meant.terms, opensAt })
          .unwrap()
          .then(
            ({ changed, stayed }) =>
              onDone(
                `${changed.length} releases of the series are changed${stayed > 0 ? `; ${stayed} stayed, over already` : ''}. Each keeps its own line.`,
              ),
            () => undefined,
          );
      }}
      noValidate
    >
      {release.seriesId && (
        <Segments
          label="Changes are for"
          value={reach}
          options={[
            { value: 'this', name: 'this one' },
            { value: 'later', name: 'and the later ones' },
            { value: 'all', name: 'the whole series' },
          ]}
          onChange={setReach}
        />
      )}
      <TermsFields
        draft={draft}
        meant={meant}
        problem={name => refusal?.fields?.[name]}
        isNew={false}
        talk={planOf(release.content)}
        onChange={more => setDraft({ ...draft, ...more })}
      />
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      <div className="flex gap-3">
        <Button look="main" type="submit" disabled={changing.isLoading || together.isLoading}>
          Keep these
        </Button>
        <Button onClick={() => onDone()}>Leave it as it is</Button>
      </div>
    </form>
  );
}

function StudentRow({
  release,
  student: s,
  onGranted,
}: {
  release: ReleaseDetail;
  student: ReleaseStudent;
  onGranted: (words: string) => void;
}) {
  const items = release.content.items;
  return (
    <tr className="bg-sheet">
      <th scope="row" dir="auto" className="px-4 py-2 text-start font-semibold">
        {s.displayName}
      </th>
      <td className="px-4">
        <span className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <StateWord
            state={s.state}
            isTalk={planOf(release.content) !== null}
            late={s.late}
            missing={s.missing}
            excused={s.excused}
          />
          {s.live && <span className="text-sm">{liveWords(s.live)}</span>}
          {s.sittings > 1 && <span className="text-sm text-soft">sitting {s.sittings}</span>}
          {s.extended && <Flag word={`until ${when(s.dueAt)}`} />}
          {s.remindedAt && !s.handedInAt && (
            <span className="text-sm text-soft">reminded {when(s.remindedAt)}</span>
          )}
        </span>
      </td>
      <td className="tabular px-4">
        <span className="flex items-center gap-2 py-1 whitespace-nowrap">
          {s.answered} of {items.filter(i => i.answerBy !== 'nothing').length}
          {(release.hears ? s.takes : []).map(take => {
            const number = items.findIndex(i => i.id === take.itemId) + 1;
            const title = `${s.displayName}, item ${number}`;
            return (
              <PlayButton
                key={take.takeId}
                track={trackOf(take.takeId, title, 'student', take.durationMs)}
                label={title}
                text={String(number)}
              />
            );
          })}
        </span>
      </td>
      <td className="px-4 whitespace-nowrap">
        {hearingsWords(
          s.hearings,
          items.map(i => i.id),
        )}
      </td>
      <td className="px-4 whitespace-nowrap">{s.handedInAt ? when(s.handedInAt) : '–'}</td>
      <td className="w-12">
        <StudentMenu
          releaseId={release.id}
          student={s}
          dueAt={s.dueAt}
          excused={s.excused}
          extended={s.extended}
          isTalk={planOf(release.content) !== null}
          onGranted={words => onGranted(`${s.displayName} ${words}.`)}
        />
      </td>
    </tr>
  );
}

/** A release: how it stands, who is where, and what may be granted. Everything here renews itself. */
export function ReleasePage() {
  const { id = '' } = useParams();
  // States change by the clock as well.
  const { data, error, isLoading, refetch } = useReleaseQuery(id, {
    pollingInterval: 30_000,
    refetchOnMountOrArgChange: true,
  });
  const [change, changing] = useChangeReleaseMutation();
  const [takeBack, taking] = useTakeBackMutation();
  const [remind, reminding] = useRemindMutation();
  const [editing, setEditing] = useState(false);
  const [asking, setAsking] = useState<'takeBack' | 'close' | 'hide' | null>(null);
  const [follow, following] = useFollowAssessmentMutation();
  const [close, closing] = useCloseReleaseMutation();
  const [granted, setGranted] = useState<string | null>(null);
  const navigate = useNavigate();
  const { data: of } = useClassQuery(data?.classId ?? '', { skip: !data || data.audience === 'link' });
  const newcomers =
    of?.own === 'teacher'
      ? of.members.filter(m => m.role === 'student' && !m.hasSignIn && !m.codeUntil && !m.hasSlip).length
      : 0;
  useTitle(data?.title ?? 'Release');
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const { counts } = data;
  const handedIn = handedInOf(counts);
  const begun = data.students.some(s => s.sittings > 0);
  const openness = opennessAt(timesOf(data), serverNow());
  const kind = data.audience === 'link' ? 'guest' : 'student';
  const students = `${counts.students} ${kind}${counts.students === 1 ? '' : 's'}`;
  const to =
    data.audience === 'group' && data.groupName
      ? `${data.className}, ${data.groupName}`
      : data.audience === 'students'
        ? `${data.className}, ${students}`
        : data.audience === 'link'
          ? `${data.className}, guests by a link`
          : data.className;
  // With nobody in it yet, the way in is the next step.
  const needsLink = data.audience === 'link' && data.students.length === 0;
  // Shown by hand means now, whenever it was to open.
  const soonest = Math.min(Date.parse(data.opensAt), serverNow());
  const shownNow = { hidden: false, opensAt: new Date(soonest).toISOString() };
  const refusal = [changing, taking, reminding, following, closing]
    .map(m => refusalOf(m.error))
    .find(r => r !== null);
  const takes = openness === 'open' || openness === 'lateOpen';
  // Guests leave no mail address.
  const waiting =
    takes && data.audience !== 'link' ? data.students.filter(s => !s.handedInAt && !s.excused).length : 0;
  const terms = (over: object) => ({
    ...termsOf(draftOf(data, browserZone()), browserZone()).terms!,
    ...over,
  });
  return (
    <section className="grid grid-cols-1 gap-6">
      <div>
        <p className="text-soft">
          <Link to="/release" className="underline underline-offset-4">
            Release
          </Link>{' '}
          · {to}
        </p>
        <div className="flex flex-wrap items-center gap-3">
          <h1 className="me-auto text-3xl">{data.title}</h1>
          {data.hidden && (
            <Button look="main" onClick={() => void change({ id, ...terms(shownNow) })}>
              Show it now
            </Button>
          )}
          {data.scoresHeld && counts.feedbackGiven > 0 && (
            <Button onClick={() => void change({ id, ...terms({ scoresHeld: false }) })}>
              Show the scores
            </Button>
          )}
          <Button onClick={() => setEditing(!editing)}>Change …</Button>
          {takes && <Button onClick={() => setAsking('close')}>Close now …</Button>}
          {!begun ? (
            <Button onClick={() => setAsking('takeBack')}>Take back …</Button>
          ) : (
            !data.hidden && <Button onClick={() => setAsking('hide')}>Take out of sight …</Button>
          )}
          {planOf(data.content) && data.hears && (
            <ButtonLink look="main" to={`/discussion/${id}`}>
              Open the discussion
            </ButtonLink>
          )}
          {handedIn > 0 && data.hears && (
            <ButtonLink look={planOf(data.content) ? 'plain' : 'main'} to={`/listen/${id}`}>
              Listen
            </ButtonLink>
          )}
        </div>
        <p className="mt-1">
          <strong>{capital(standsWords(data, serverNow(), when))}.</strong>{' '}
          {openness !== 'lateOpen' &&
            openness !== 'closed' &&
            (data.lateAccepted ? 'Late work is taken and flagged.' : 'Nothing is taken after that.')}
          {data.note && <> “{data.note}”</>}
        </p>
      </div>
      {editing && (
        <ChangeTerms
          release={data}
          onDone={words => {
            setEditing(false);
            if (words) setGranted(words);
          }}
        />
      )}
      {openness === 'notYet' && !begun && (
        <p className="flex flex-wrap items-center gap-3">
          {data.follows
            ? 'Until it opens it follows its assessment: what you change there is in it.'
            : 'It is held as it was when it was planned: what you change in the assessment is not in it.'}
          <Button disabled={following.isLoading} onClick={() => void follow({ id, follows: !data.follows })}>
            {data.follows ? 'Hold it as it is' : 'Let it follow the assessment'}
          </Button>
          <ButtonLink to={`/set/${data.assessmentId}`} look="quiet">
            Open the assessment
          </ButtonLink>
        </p>
      )}
      {refusal && !editing && <Notice kind="trouble">{refusal.message}</Notice>}
      {!planOf(data.content) && <Strip items={data.content.items} />}
      {handedIn === 0 && !granted && !needsLink && (
        <Notice>
          {openness === 'notYet'
            ? data.hidden
              ? `Nobody sees it until you show it; then it is open for ${students}.`
              : `It opens automatically for ${students}, ${when(data.opensAt)}. Nobody sees it before.`
            : `It is open for ${students} now.`}{' '}
          What they do appears here automatically.
        </Notice>
      )}
      {waiting > 0 && (
        <div className="flex flex-wrap items-center gap-4">
          <Button disabled={reminding.isLoading} onClick={() => void remind(id)}>
            <Mail aria-hidden className="size-5" /> Remind {waiting === 1 ? 'the one' : `the ${waiting}`} who{' '}
            {waiting === 1 ? 'has' : 'have'} not handed in
          </Button>
          {reminding.data && (
            <span role="status">
              {reminding.data.sent} reminded by mail
              {reminding.data.already > 0 && `, ${reminding.data.already} within the last hour already`}
              {reminding.data.without.length > 0 && `; no mail address: ${reminding.data.without.join(', ')}`}
              .
            </span>
          )}
        </div>
      )}
      {newcomers > 0 && (
        <Notice
          action={
            <ButtonLink look="main" to={`/classes/${data.classId}/codes?now`}>
              {newcomers === 1 ? 'Make a code' : 'Make their codes'}
            </ButtonLink>
          }
        >
          {newcomers === 1 ? 'One student has' : `${newcomers} students have`} never signed in, and{' '}
          {newcomers === 1 ? 'needs' : 'need'} a one-time code for it.
        </Notice>
      )}
      {needsLink && <Links releaseId={id} startsWithOne />}
      {granted && <Notice action={<Button onClick={() => setGranted(null)}>Good</Button>}>{granted}</Notice>}
      {!needsLink && (
        <>
          <dl className="flex flex-wrap gap-x-10 gap-y-3">
            {(
              [
                [planOf(data.content) ? 'not spoken yet' : 'not opened', counts.notOpened],
                ['under way', counts.underWay],
                ['handed in', counts.handedIn],
                ['marked', counts.marked],
                ['feedback given', counts.feedbackGiven],
                ['answered', counts.answered],
                ['to record again', counts.askedAgain],
                ['late', counts.late],
                ['missing', counts.missing],
                ['excused', counts.excused],
              ] as const
            ).map(([name, n]) => (
              <div key={name}>
                <dd className="tabular text-2xl">{n}</dd>
                <dt className="text-sm text-soft">{name}</dt>
              </div>
            ))}
            <div>
              <dd className="tabular text-2xl">{clock(data.waitingMs)}</dd>
              <dt className="text-sm text-soft">to listen to</dt>
            </div>
          </dl>
          <div className="relative overflow-x-auto">
            <table className="w-full border-separate border-spacing-y-px text-start">
              <thead className="text-sm text-soft">
                <tr>
                  {['Student', 'State', 'Answered', 'Prompts heard', 'Handed in'].map(heading => (
                    <th key={heading} className="px-4 py-2 text-start font-normal">
                      {heading}
                    </th>
                  ))}
                  <th>
                    <span className="sr-only">Grant</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {data.students.map(s => (
                  <StudentRow key={s.id} release={data} student={s} onGranted={setGranted} />
                ))}
              </tbody>
            </table>
          </div>
          <Links releaseId={id} />
        </>
      )}
      <Confirm
        open={asking === 'close'}
        onClose={() => setAsking(null)}
        title="Close this release now?"
        yes="Close it"
        no="Leave it open"
        onYes={() => void close(id)}
      >
        <p>
          Nobody begins or records from now on, late work neither. What is handed in stays with you; whoever
          is under way can still hand in what they have recorded. A later due time opens it again.
        </p>
      </Confirm>
      <Confirm
        open={asking === 'hide'}
        onClose={() => setAsking(null)}
        title="Take this release out of sight?"
        yes="Take it out of sight"
        no="Leave it"
        onYes={() => void change({ id, ...terms({ hidden: true }) })}
      >
        <p>
          Somebody has begun it, so it is not taken back: students no longer see it, nobody begins it, and
          what was recorded stays here and with you. “Show it now” brings it back.
        </p>
      </Confirm>
      <Confirm
        open={asking === 'takeBack'}
        onClose={() => setAsking(null)}
        title="Take this release back?"
        yes="Take it back"
        no="Leave it"
        onYes={() =>
          void takeBack(id)
            .unwrap()
            .then(
              () => navigate('/release'),
              () => undefined,
            )
        }
      >
        <p>Nobody has begun it. The assessment stays on your shelf and can be released again.</p>
      </Confirm>
    </section>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
