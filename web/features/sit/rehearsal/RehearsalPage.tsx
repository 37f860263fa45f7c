import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { arranged, extended, HALF_AGAIN, ORDINARY, type Arrangement } from '@ecoute/core/timing/arrangements';
import { takeLengthMs } from '@ecoute/core/timing/conversation';
import { orderOf } from '@ecoute/core/timing/order';
import { isRun } from '@ecoute/core/timing/strip';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { forStudents, withoutModels } from '@ecoute/contract/assessment/forStudents';
import type { SittingView } from '@ecoute/contract/sittings';
import { useTitle } from '../../../base/useTitle';
import { Button, ButtonLink } from '../../../parts/Button';
import { languageName } from '../../../parts/LanguageSelect';
import { Failed, Loading } from '../../../parts/Loading';
import { ModelAnswer } from '../../../parts/ModelAnswer';
import { desk } from '../../../parts/recorder/delivery';
import { useClassesQuery } from '../../classes/endpoints';
import { useAssessmentQuery } from '../../set/endpoints';
import { RehearsalContext, type Rehearsal } from './rehearsal';
import { Sitting } from '../SitPage';
import { useSittingLanguage } from '../useSittingLanguage';

const ARRANGEMENTS: Record<string, { name: string; arrangement: Arrangement }> = {
  ordinary: { name: 'a student without arrangements', arrangement: ORDINARY },
  halfAgain: { name: 'a student with half as much time again', arrangement: HALF_AGAIN },
  readAloud: { name: 'a student who is read to', arrangement: { ...ORDINARY, readAloud: true } },
  hearings: {
    name: 'a student who hears prompts twice more',
    arrangement: { ...ORDINARY, extraHearings: 2 },
  },
  breaks: {
    name: 'a student who may take breaks',
    arrangement: { ...ORDINARY, breakMs: 10 * 60_000 },
  },
  byEar: {
    name: 'a child who does not read yet',
    arrangement: { ...ORDINARY, readAloud: true, byEar: true },
  },
  twice: {
    name: 'a student with twice the time',
    arrangement: { ...HALF_AGAIN, extraTime: 2, extraHearings: 2 },
  },
};

/** The assessment as a student with an arrangement would meet it, in an order of this rehearsal's own. */
function contentFor(content: AssessmentContent, arrangement: Arrangement, seed: string): AssessmentContent {
  const items = orderOf(content.items, content.sections, seed)
    .map(item => arranged(item, arrangement))
    .map(item => (isRun(item) ? { ...item, answerLimitMs: takeLengthMs(item.turns) } : item));
  const { sittingLimitMs } = content;
  const met = {
    ...content,
    items,
    sittingLimitMs: sittingLimitMs === null ? null : extended(sittingLimitMs, arrangement),
  };
  return forStudents(
    content.modelOpens === 'atOnce' ? met : withoutModels(met),
    arrangement.readAloud,
    arrangement.directionsLanguage,
  );
}

/** Try it as a student: the real recorder and the real clock, and not a trace afterwards. */
export function RehearsalPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useAssessmentQuery(id, { refetchOnMountOrArgChange: true });
  const { data: classes } = useClassesQuery();
  const [who, setWho] = useState('ordinary');
  const [run, setRun] = useState(() => crypto.randomUUID());
  const [over, setOver] = useState(false);
  useTitle(data ? `Rehearsal: ${data.content.title}` : 'Rehearsal');
  const worded = useSittingLanguage(data?.content);
  useEffect(() => () => desk.forgetRehearsals(), []);

  const rehearsal = useMemo<Rehearsal>(() => ({ onHandIn: () => setOver(true) }), []);
  const anew = () => {
    desk.forgetRehearsals();
    setOver(false);
    setRun(crypto.randomUUID());
  };
  if (isLoading || (data && !worded)) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  // Each language that there is, to see and hear how it stands.
  const languages = [...new Set(data.content.otherDirections.map(d => d.language))];
  const second = languages.find(l => who === `in ${l}`) ?? null;
  const arrangement = { ...(ARRANGEMENTS[who]?.arrangement ?? ORDINARY), directionsLanguage: second };
  const content = contentFor(data.content, arrangement, run);
  const sitting: SittingView = {
    id: run,
    number: 1,
    arrangement,
    isByEar: who === 'byEar' || content.byEar === true,
    releaseId: run,
    title: content.title,
    className: '',
    // Music switches the browser's speech processing off; a teacher of music rehearses as the class will sit.
    subject: classes?.length && classes.every(c => c.subject === 'music') ? 'music' : 'language',
    dueAt: new Date().toISOString(),
    openness: 'open',
    state: 'underWay',
    content,
    events: [],
    takes: [],
    written: [],
    judgements: {},
    mayWithdraw: false,
    openItemIds: null,
    againFor: null,
    notThere: [],
    unseen: false,
    // The page covers them all the same until their time begins.
    hidden: [],
    modelsWait: false,
    roomLeftBytes: null,
    clockBeganAt: null,
    timeUpAt: null,
    receipt: null,
    now: new Date().toISOString(),
  };
  return (
    <div className="grid grid-cols-1 gap-4">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2 border-b-2 border-dashed border-edge pb-3">
        <p>
          <strong>Rehearsal.</strong> As students will see it; nothing is kept, nobody is told.
        </p>
        <label className="flex flex-wrap items-center gap-2">
          as
          <select
            value={who}
            onChange={e => {
              setWho(e.target.value);
              anew();
            }}
            className="min-h-11 border-2 border-edge bg-sheet px-2"
          >
            {Object.entries(ARRANGEMENTS)
              // A break stops the clock of the whole sitting: without one there is none to take.
              .filter(([key]) => key !== 'breaks' || data.content.sittingLimitMs !== null)
              .map(([key, { name }]) => (
                <option key={key} value={key}>
                  {name}
                </option>
              ))}
            {languages.map(language => (
              <option key={language} value={`in ${language}`}>
                a student with directions in {languageName(language)}
              </option>
            ))}
          </select>
        </label>
        <Link to={`/set/${id}`} className="ms-auto underline underline-offset-4">
          Back to setting
        </Link>
      </div>
      <h1 className="text-2xl sm:text-3xl">{content.title || 'Without a title'}</h1>
      {over ? (
        <section className="mx-auto grid w-full max-w-2xl grid-cols-1 gap-4 bg-sheet p-5 sm:p-8">
          <h2 className="text-2xl">Here a student would have handed in</h2>
          {content.closingWords && <p className="text-lg whitespace-pre-wrap">{content.closingWords}</p>}
          {data.content.modelOpens !== 'afterReturn' &&
            data.content.items.map((item, i) => <ModelAnswer key={item.id} item={item} number={i + 1} />)}
          <div className="flex flex-wrap gap-3">
            <ButtonLink look="main" to={`/set/${id}`}>
              Back to setting
            </ButtonLink>
            <Button onClick={anew}>Once more</Button>
          </div>
        </section>
      ) : (
        <RehearsalContext value={rehearsal}>
          <Sitting key={`${run} ${who}`} sitting={sitting} />
        </RehearsalContext>
      )}
    </div>
  );
}
