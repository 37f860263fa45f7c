import { Download } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import type { Decision } from '@ecoute/contract/decisions';
import type { Lane, ListenView, FeedbackResult, SaidInTalk } from '@ecoute/contract/marking';
import { refusalOf } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { lazyPart } from '../../parts/lazyPart';
import { Notice } from '../../parts/Notice';
import { inTurn } from '../../parts/player/inTurn';
import { shortPrompt } from '../../parts/shortPrompt';
import { Strip } from '../../parts/strip/Strip';
import { trackOf } from '../../parts/player/PlayButton';
import { RATES } from '../../parts/player/player';
import { fetchPeaks, playFrom, player } from '../../parts/player/usePlayer';
import { useReleaseEvidenceQuery } from '../evidence/endpoints';
import { KeptLine } from './bank/KeptLine';
import { useKeepInBank } from './bank/useKeepInBank';
import type { BesideHandle } from './BesideLane';
import { DecisionMade, DecisionsMade } from './DecisionsMade';
import { useCallOffFeedbackMutation, useLanesQuery } from './endpoints';
import { Desk } from './desk/Desk';
import type { MarksHandle } from './desk/Marks';
import { useDrawer, type DrawerPart } from './desk/useDrawer';
import { useFinished } from './desk/useFinished';
import { isSeen } from './desk/AnswerPart';
import { KeysHelp } from './KeysHelp';
import { isAmong } from './laneFilters';
import { LaneList } from './LaneList';
import type { LaneNotesHandle } from './LaneNotes';
import type { Marking } from './marking';
import { LaneRow } from './LaneRow';
import { ListenHead } from './ListenHead';
import { MissingStudents } from './MissingStudents';
import { ListenLine } from './ListenLine';
import { checkFeedback, isAnswered, isReady, laneKey } from './order';
import { Toasts } from '../../parts/Toasts';
import { FeedbackDialog } from './FeedbackDialog';
import { givenWords, takenBackWords } from './givenWords';
import { inContext, nextPart, partOf, withPart } from './talk/parts';
import type { TalkPartsProps } from './talk/TalkParts';
import { trackOfLane, useLaneFocus } from './useLaneFocus';
import { useLaneKeys } from './useLaneKeys';
import type { LevelsHandle } from './WholeLevel';
import { useMatchedLevels } from '../../parts/player/useMatchedLevels';
import { useOthers } from './useOthers';
import { useUnsent } from './useUnsent';

/** A colleague at work here is seen within seconds; alone, one's own changes are here already. */
const LOOK_EVERY_MS = 30_000;
const LOOK_TOGETHER_MS = 4_000;
/** So long does a digit after O belong to the overall level. */
const ARMED_MS = 5_000;

const TalkParts = lazyPart<TalkPartsProps>(() =>
  import('./talk/TalkParts').then(m => ({ default: m.TalkParts })),
);

function Lanes({
  view: given,
  onSpoken,
  onTogether,
}: {
  view: ListenView;
  onSpoken: () => void;
  onTogether: (together: boolean) => void;
}) {
  /** Of a discussion: which contribution each lane shows. */
  const [chosen, setChosen] = useState<ReadonlyMap<string, string>>(new Map());
  const view = useMemo(
    () =>
      given.lanes.some(l => l.talk)
        ? { ...given, lanes: given.lanes.map(l => withPart(l, chosen.get(laneKey(l)))) }
        : given,
    [given, chosen],
  );
  /** Sittings that colleagues are at. */
  const taken = useRef<ReadonlySet<string>>(new Set());
  const focus = useLaneFocus(view, taken);
  const { focused, group, arrangement } = focus;
  const [help, setHelp] = useState(false);
  const [decided, setDecided] = useState<Decision | null>(null);
  /** Whose feedback is asked about: one sitting’s, or everybody’s. */
  const [asking, setAsking] = useState<'all' | { sittingId: string } | null>(null);
  const [result, setResult] = useState<FeedbackResult | null>(null);
  /** What became of feedback that was taken back. */
  const [told, setTold] = useState<string | null>(null);
  const [callOff] = useCallOffFeedbackMutation();
  const { data: released } = useReleaseEvidenceQuery(view.releaseId);
  const [matches, setMatches] = useMatchedLevels();
  const marks = useRef<MarksHandle>(null);
  const notes = useRef<LaneNotesHandle>(null);
  const beside = useRef<BesideHandle>(null);
  const levels = useRef<LevelsHandle>(null);
  /** The lane on which the next digit gives the overall level. */
  const [armed, setArmed] = useState<string | null>(null);
  useEffect(() => {
    if (armed === null) return;
    const timer = setTimeout(() => setArmed(null), ARMED_MS);
    return () => clearTimeout(timer);
  }, [armed]);
  const unsent = useUnsent();
  const drawer = useDrawer();
  const bank = useKeepInBank();
  const { finished, setFinished, forget } = useFinished();
  const head = useRef<HTMLDivElement>(null);
  const nameField = useRef<HTMLInputElement>(null);
  /** Where the answer was left for its prompt. */
  const left = useRef<{ takeId: string; atMs: number } | null>(null);

  const item = view.content.items.find(i => i.id === focused.itemId)!;
  const prompt = item.promptRecordingId
    ? trackOf(item.promptRecordingId, `Prompt: ${shortPrompt(item)}`, 'teacher', item.promptDurationMs)
    : null;
  const check = useMemo(() => checkFeedback(view), [view]);
  const ready = check.filter(isReady);
  const others = useOthers(view.releaseId, focused.sittingId);
  useEffect(() => {
    taken.current = new Set(others.flatMap(o => o.sittingId ?? []));
    onTogether(others.length > 0);
  }, [others, onTogether]);

  const show = (part: DrawerPart) => drawer.open(part, laneKey(focused), isSeen(focused, item));
  const toTop = () => head.current?.scrollIntoView({ block: 'start' });
  const toRate = (by: number) => {
    const at = RATES.indexOf(player.now().rate as (typeof RATES)[number]);
    const rate = RATES[at + by];
    if (rate !== undefined) player.setRate(rate);
  };
  const toPart = (id: string | undefined) => {
    if (!id) return;
    setChosen(now => new Map(now).set(laneKey(focused), id));
    const track = trackOfLane(withPart(focused, id));
    if (track) void player.play(track);
  };
  const hearParts = (parts: readonly SaidInTalk[]) =>
    inTurn.begin(
      focused.studentName,
      parts.flatMap(p => inContext(p, focused.studentName)),
    );
  const hearAll = () => hearParts(focused.talk?.contributions ?? []);
  const hearInContext = () => {
    const part = partOf(focused, chosen.get(laneKey(focused)));
    if (part) hearParts([part]);
  };
  const keepInBank = () => void bank.keep(focused, marks.current?.written() ?? '');
  const takeBack = (sittingIds: string[]) =>
    void callOff({ releaseId: view.releaseId, sittingIds })
      .unwrap()
      .then(
        done => {
          setResult(null);
          setTold(takenBackWords(done));
        },
        failed => setTold(`This is not taken back. ${refusalOf(failed)?.message ?? 'Try again.'}`),
      );
  const undo = () => {
    if (!finished) return;
    const { lane, marking } = finished;
    forget();
    // Back at it when it is taken back: what is typed before that would be on top of a finished score.
    const takeBack = async () => {
      const why = await marking.takeBack();
      if (why === null) focus.goTo(lane);
      return why;
    };
    unsent.watchAlso(lane, `${lane.studentName} stays finished.`, takeBack, takeBack());
  };

  const onFinished = (lane: Lane, marking: Marking, sent: Promise<boolean>, words: string) => {
    // What was still being written belongs to it.
    const { current } = notes;
    const kept = current?.keep();
    if (current && kept)
      unsent.watchAlso(
        lane,
        `A note on ${lane.studentName} is not kept yet.`,
        () => current.keep() ?? Promise.resolve(null),
        kept,
      );
    setFinished({ lane, marking, words });
    focus.toNextWaiting();
    unsent.watch(lane, marking, sent);
  };

  useLaneKeys({
    keys: {
      ' ': () => {
        const track = trackOfLane(focused);
        if (track) void player.toggle(track);
      },
      ArrowLeft: () => player.skip(-3_000),
      ArrowRight: event => {
        if (!event.shiftKey || !focused.takeId) return player.skip(3_000);
        void fetchPeaks(focused.takeId, focused.durationMs).then(peaks => player.toNextSpeech(peaks));
      },
      ArrowUp: () => focus.move(-1),
      ArrowDown: () => focus.move(1),
      c: () => show('bank'),
      a: keepInBank,
      w: () => marks.current?.toComment(),
      n: () => {
        show('notes');
        notes.current?.here();
      },
      b: () => {
        show('beside');
        beside.current?.change();
      },
      d: hearAll,
      r: hearInContext,
      h: () => toPart(nextPart(focused, chosen.get(laneKey(focused)), -1)?.id),
      j: () => toPart(nextPart(focused, chosen.get(laneKey(focused)), 1)?.id),
      e: () => show('measured'),
      k: () => show('task'),
      x: () => show('exchange'),
      o: () => {
        if (view.content.scoring.kind !== 'level') return;
        show('levels');
        setArmed(laneKey(focused));
      },
      '.': () => marks.current?.half(),
      g: () => marks.current?.toPoints(),
      i: () => focus.toNextWaitingOf(l => l.itemId === focused.itemId),
      u: () => focus.toNextWaitingOf(l => l.sittingId === focused.sittingId),
      t: toTop,
      '/': () => {
        toTop();
        nameField.current?.select();
      },
      z: undo,
      '-': () => toRate(-1),
      '+': () => toRate(1),
      '=': () => toRate(1),
      // From the prompt to the answer and back.
      p: () => {
        const now = player.now();
        const track = trackOfLane(focused);
        if (prompt === null || now.track?.id !== prompt.id || !now.playing) {
          if (track && now.track?.id === track.id) left.current = { takeId: track.id, atMs: now.positionMs };
          if (prompt) void player.play(prompt);
        } else if (track) playFrom(track, left.current?.takeId === track.id ? left.current.atMs : 0);
      },
      l: () => player.markLoop(),
      s: () => player.setSkipsSilence(!player.now().skipsSilence),
      m: () => setMatches(!matches),
      '?': () => setHelp(true),
    },
    finish: () => {
      if (armed !== laneKey(focused)) return marks.current?.finish();
      setArmed(null);
      // No recording has its level yet: finishing says that it misses.
      if (!levels.current?.takeHighest()) marks.current?.finish();
    },
    digit: (digit, joins) => {
      if (armed !== laneKey(focused)) return marks.current?.digit(digit, joins);
      setArmed(null);
      levels.current?.choose(Number(digit) - 1);
    },
    speaks: [
      () => {
        show('notes');
        notes.current?.speak();
      },
      () => notes.current?.hush(),
    ],
  });

  const fullMs = Math.max(5_000, ...group.lanes.map(l => l.durationMs ?? 0));
  const isNone = !group.lanes.some(l => isAmong(l, focus.narrowed));
  const shown = (lane: Lane) => {
    const index = view.content.items.findIndex(i => i.id === lane.itemId);
    return {
      lane,
      content: view.content,
      item: view.content.items[index]!,
      name: arrangement === 'item' ? lane.studentName : `Item ${index + 1}`,
      fullMs,
      onFocus: focus.focusOn,
      measured: lane.takeId ? released?.takes[lane.takeId] : undefined,
    };
  };

  return (
    <section className="grid grid-cols-1 gap-4">
      <div ref={head} className="grid grid-cols-1 gap-2">
        <ListenHead
          view={view}
          focus={focus}
          others={others}
          ready={ready.filter(c => c.feedbackComesAt === null).length}
          unplaced={check.filter(c => c.level).length}
          mayGive={check.length > 0}
          onGive={() => setAsking('all')}
          matches={matches}
          onMatches={setMatches}
          nameField={nameField}
          help={<KeysHelp open={help} onOpen={setHelp} />}
        />
        {!focused.talk && (
          <Strip
            items={view.content.items}
            current={item.id}
            answered={
              arrangement === 'student'
                ? new Set(group.lanes.filter(isAnswered).map(l => l.itemId))
                : undefined
            }
            onChoose={focus.toItem}
          />
        )}
      </div>
      <div className="sticky top-0 z-20">
        <ListenLine
          view={view}
          item={item}
          prompt={prompt}
          focus={focus}
          head={head}
          onTop={toTop}
          finished={finished}
          onUndo={undo}
          says={
            bank.keeping && <KeptLine keeping={bank.keeping} onTopic={bank.remember} onDone={bank.done} />
          }
        />
      </div>
      <Toasts>
        {told && (
          <Notice
            action={
              <Button look="quiet" onClick={() => setTold(null)}>
                Good
              </Button>
            }
          >
            {told}
          </Notice>
        )}
        {result && (
          <Notice
            action={
              <>
                {result.givenIds.length > 0 && (
                  <Button onClick={() => takeBack(result.givenIds)}>Undo</Button>
                )}
                <Button look="quiet" onClick={() => setResult(null)}>
                  Good
                </Button>
              </>
            }
          >
            {givenWords(result)}
          </Notice>
        )}
        {unsent.trouble && (
          <Notice
            kind="trouble"
            action={
              <>
                <Button
                  onClick={() => {
                    focus.goTo(view.lanes.find(l => unsent.trouble!.key.endsWith(laneKey(l))));
                    unsent.forget();
                  }}
                >
                  Go to it
                </Button>
                <Button look="quiet" onClick={unsent.again}>
                  Send again
                </Button>
              </>
            }
          >
            {unsent.trouble.what} {unsent.trouble.message}
          </Notice>
        )}
        {decided && (
          <DecisionMade releaseId={view.releaseId} decision={decided} onDone={() => setDecided(null)} />
        )}
      </Toasts>
      {isNone && (
        <p className="text-soft">
          Nothing else like this {arrangement === 'item' ? 'on this item' : 'of this student'}; the strip
          leads to the others.
        </p>
      )}
      <LaneList
        lanes={group.lanes}
        focused={laneKey(focused)}
        label={arrangement === 'item' ? group.name : `Answers of ${group.name}`}
      >
        {(lane, list) => {
          const key = laneKey(lane);
          const row = { ...shown(lane), ...list };
          // What a lane opens with is made for the one in focus alone: hundreds of others only show their shape.
          if (key !== laneKey(focused)) return <LaneRow key={key} {...row} focused={false} />;
          return (
            <LaneRow key={key} {...row} focused>
              {lane.talk && (
                <TalkParts
                  view={view}
                  lane={lane}
                  chosen={chosen.get(key)}
                  onChoose={toPart}
                  onContext={hearInContext}
                  onAll={hearAll}
                />
              )}
              <Desk
                view={view}
                lane={lane}
                item={row.item}
                focus={focus}
                isReady={ready.some(c => c.sittingId === lane.sittingId)}
                handles={{ marks, notes, beside, levels }}
                drawer={drawer}
                givesLevel={armed === key}
                released={released}
                onFinished={onFinished}
                onSpoken={onSpoken}
                onDecided={setDecided}
                onGive={sittingId => setAsking({ sittingId })}
                onTakeBack={takeBack}
                onKeepInBank={keepInBank}
              />
            </LaneRow>
          );
        }}
      </LaneList>
      <MissingStudents view={view} />
      <p className="flex flex-wrap gap-x-6">
        <a
          href={`/api/releases/${view.releaseId}/recordings.zip`}
          download
          className="inline-flex min-h-11 items-center gap-2 underline underline-offset-4"
        >
          <Download aria-hidden className="size-5" /> All recordings (ZIP, with an index)
        </a>
      </p>
      <DecisionsMade releaseId={view.releaseId} namesChanges={view.namesChanges} />
      {/* So that the last lane, too, can lie where all others lay. */}
      <div aria-hidden className="h-[45dvh]" />
      {asking && (
        <FeedbackDialog
          view={view}
          only={asking === 'all' ? null : asking.sittingId}
          onClose={() => setAsking(null)}
          onGiven={done => {
            setTold(null);
            setResult(done);
            setAsking(null);
          }}
        />
      )}
    </section>
  );
}

export function ListenPage() {
  const { id = '' } = useParams();
  const [together, setTogether] = useState(false);
  const { data, error, isLoading, refetch } = useLanesQuery(id, {
    pollingInterval: together ? LOOK_TOGETHER_MS : LOOK_EVERY_MS,
    refetchOnMountOrArgChange: true,
  });
  const again = useCallback(() => void refetch(), [refetch]);
  useTitle(data ? `Listen: ${data.title}` : 'Listen');
  if (isLoading) return <Loading rows={8} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  if (data.lanes.length === 0)
    return (
      <section className="grid gap-6">
        <Empty title="Nothing handed in yet">
          What students hand in of “{data.title}” appears here automatically.
        </Empty>
        <DecisionsMade releaseId={id} />
      </section>
    );
  return <Lanes key={id} view={data} onSpoken={again} onTogether={setTogether} />;
}
