import { ArrowDown, ArrowUp, Combine, Play, Scissors, Square, Trash2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { conversationProblems, partAt, runOf } from '@ecoute/core/timing/conversation';
import { clock, inWords } from '@ecoute/core/timing/words';
import type { Item, Turn } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { fetchPeaks, player, usePeaks } from '../../../parts/player/usePlayer';
import { desk } from '../../../parts/recorder/delivery';
import { loadTurns, playRun, type SoundingRun } from '../../../parts/recorder/run';
import { LengthInput } from './LengthInput';
import { TurnCutter } from './TurnCutter';
import { stands } from '../material/brought';
import { useBrought } from '../material/useBrought';
import { joinWithNext, movedTurn, splitTurn, turnsOnTrack, USUAL_GAP_MS, wholeTurn } from './turns';
import { VoiceSlot } from './VoiceSlot';

/** So that the first sample of a run is not late for its own moment. */
const SOON_SEC = 0.05;
const MOST_LOOKS = 20;
const LOOK_AGAIN_MS = 1_000;
const SILENCES_MS = [500, 1_000, 1_500, 2_000, 3_000, 5_000];

/** The peaks of a sound that was just stored: they come a moment later. @throws when they do not come */
async function peaksSoon(recordingId: string) {
  for (let n = 0; ; n++)
    try {
      return await fetchPeaks(recordingId);
    } catch (error) {
      if (n === MOST_LOOKS) throw error;
      await new Promise(resolve => setTimeout(resolve, LOOK_AGAIN_MS));
    }
}

/** Hears turns as students will: on one clock, with their gaps. */
function useHearing() {
  const context = useRef<AudioContext | null>(null);
  const sounding = useRef<SoundingRun | null>(null);
  /** Which hearing was asked for last: one whose sounds come later than another press is not begun. */
  const asked = useRef(0);
  const [now, setNow] = useState<{ turns: readonly Turn[]; positionMs: number } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);

  const stop = () => {
    asked.current += 1;
    sounding.current?.stop();
    sounding.current = null;
    setNow(null);
  };
  const hear = async (turns: readonly Turn[]) => {
    stop();
    const mine = asked.current;
    setTrouble(null);
    player.pause();
    context.current ??= new AudioContext();
    try {
      await context.current.resume();
      const sounds = await loadTurns(context.current, turns);
      if (mine !== asked.current) return;
      sounding.current = playRun(context.current, sounds, turns, context.current.currentTime + SOON_SEC);
      setNow({ turns, positionMs: 0 });
    } catch (error) {
      if (mine === asked.current) setTrouble((error as Error).message);
    }
  };
  useEffect(() => {
    if (!now) return;
    const lengthMs = runOf(now.turns).lengthMs;
    const timer = setInterval(() => {
      const positionMs = sounding.current?.positionMs() ?? lengthMs;
      if (positionMs >= lengthMs) setNow(null);
      else setNow(n => n && { ...n, positionMs });
    }, 100);
    return () => clearInterval(timer);
  }, [now]);
  useEffect(
    () => () => {
      asked.current += 1;
      sounding.current?.stop();
      void context.current?.close();
    },
    [],
  );
  return { hear, stop, now, trouble };
}

function TurnRow({
  turns,
  index,
  open,
  soundingMs,
  onOpen,
  onHear,
  onChange,
  onTurns,
}: {
  turns: readonly Turn[];
  index: number;
  open: boolean;
  /** Where the run is in this turn, in ms of the turn; null where it is not. */
  soundingMs: number | null;
  onOpen: () => void;
  /** Hears this turn, or stops it. */
  onHear: () => void;
  onChange: (change: Partial<Turn>) => void;
  onTurns: (turns: Turn[]) => void;
}) {
  const turn = turns[index]!;
  const [problem, setProblem] = useState<string | null>(null);
  const peaks = usePeaks(open ? turn.recordingId : null);
  const before = turns[index - 1];
  const next = turns[index + 1];
  const same = (other: Turn | undefined) => other?.recordingId === turn.recordingId;
  return (
    <li className={`relative grid gap-3 px-3 py-2 ${soundingMs === null ? 'bg-sheet' : 'bg-saffron-wash'}`}>
      {soundingMs !== null && (
        <div
          role="progressbar"
          aria-label={`Turn ${index + 1} sounds`}
          aria-valuenow={Math.round((100 * soundingMs) / Math.max(1, turn.toMs - turn.fromMs))}
          className="absolute bottom-0 left-0 h-1 bg-saffron"
          style={{ width: `${Math.min(100, (100 * soundingMs) / Math.max(1, turn.toMs - turn.fromMs))}%` }}
        />
      )}
      <div className="grid items-center gap-3 sm:grid-cols-[auto_auto_minmax(0,1fr)_8rem_auto]">
        <span className="text-lg font-semibold">{index + 1}</span>
        <Button
          aria-label={soundingMs === null ? `Hear turn ${index + 1}` : `Stop turn ${index + 1}`}
          onClick={onHear}
        >
          {soundingMs === null ? (
            <Play aria-hidden className="size-5" />
          ) : (
            <Square aria-hidden className="size-5" />
          )}
          <span className="tabular font-normal">{((turn.toMs - turn.fromMs) / 1000).toFixed(1)} s</span>
        </Button>
        <input
          aria-label={`What turn ${index + 1} is about`}
          placeholder="What it is about; labels the answer"
          maxLength={LIMITS.turnWords}
          value={turn.says}
          onChange={e => onChange({ says: e.target.value })}
          className={inputClass}
        />
        <Field
          label={
            <>
              Gap <span className="sr-only">after turn {index + 1}</span>
            </>
          }
          error={problem}
        >
          {ties => (
            <LengthInput
              {...ties}
              valueMs={turn.gapMs}
              leastMs={0}
              mostMs={LIMITS.gapMs}
              onProblem={setProblem}
              onChange={gapMs => onChange({ gapMs })}
            />
          )}
        </Field>
        <Button aria-expanded={open} onClick={onOpen}>
          {open ? 'Close' : 'Adjust'}
        </Button>
      </div>
      {open && (
        <div className="grid gap-3">
          {peaks && (
            <TurnCutter
              turn={turn}
              number={index + 1}
              peaks={peaks}
              leastMs={same(before) ? before!.toMs : 0}
              mostMs={same(next) ? next!.fromMs : peaks.durationMs}
              onChange={onChange}
            />
          )}
          <div className="flex flex-wrap gap-3">
            <Button disabled={!peaks} onClick={() => peaks && onTurns(splitTurn(turns, turn.id, peaks))}>
              <Scissors aria-hidden className="size-5" /> Split
            </Button>
            <Button
              disabled={!same(next) || next!.fromMs < turn.toMs}
              onClick={() => onTurns(joinWithNext(turns, turn.id))}
            >
              <Combine aria-hidden className="size-5" /> Join with the next
            </Button>
            <Button
              aria-label={`Move turn ${index + 1} up`}
              disabled={index === 0}
              onClick={() => onTurns(movedTurn(turns, turn.id, -1))}
            >
              <ArrowUp aria-hidden className="size-5" />
            </Button>
            <Button
              aria-label={`Move turn ${index + 1} down`}
              disabled={index === turns.length - 1}
              onClick={() => onTurns(movedTurn(turns, turn.id, 1))}
            >
              <ArrowDown aria-hidden className="size-5" />
            </Button>
            <Button onClick={() => onTurns(turns.filter(t => t.id !== turn.id))}>
              <Trash2 aria-hidden className="size-5" /> Take out
            </Button>
          </div>
        </div>
      )}
    </li>
  );
}

/** A conversation, built turn by turn or cut out of one track. */
export function ConversationEditor({
  assessmentId,
  item,
  onChange,
}: {
  assessmentId: string;
  item: Item;
  onChange: (turns: Turn[]) => void;
}) {
  const { turns } = item;
  const { hear, stop, now, trouble } = useHearing();
  const [open, setOpen] = useState<string | null>(null);
  const [shortestMs, setShortestMs] = useState(1_500);
  const [finding, setFinding] = useState<string | null>(null);
  const [allGapMs, setAllGapMs] = useState(USUAL_GAP_MS);
  const [gapProblem, setGapProblem] = useState<string | null>(null);
  const run = runOf(turns);
  const problems = conversationProblems(turns);
  const part = now && partAt(runOf(now.turns), now.positionMs);
  const soundingMs = (turn: Turn): number | null =>
    part?.kind === 'turn' && part.turnId === turn.id ? now!.positionMs - part.startMs : null;
  /** The track that turns were cut from, if any were. */
  const track = turns.find(t => turns.filter(o => o.recordingId === t.recordingId).length > 1)?.recordingId;

  const latest = useRef(turns);
  useEffect(() => {
    latest.current = turns;
  });
  /** @returns whether the track could be read */
  const find = async (recordingId: string, shortest: number): Promise<boolean> => {
    setFinding('Looking for the silences …');
    try {
      const found = turnsOnTrack(recordingId, await peaksSoon(recordingId), shortest);
      if (found.length === 0) setFinding('Nothing can be heard on this track. Bring another one.');
      else {
        setFinding(
          found.length === 1
            ? 'No silence that long is on this track, so it is one turn. Count shorter silences, or split it by hand.'
            : `${found.length} turns found. Each can be adjusted.`,
        );
        const others = latest.current.filter(t => t.recordingId !== recordingId);
        onChange([...others, ...found].slice(0, LIMITS.turns));
      }
      return true;
    } catch {
      setFinding(
        'The track could not be read just now. It is stored: reload the page, and it is read again.',
      );
      return false;
    }
  };

  // A track is cut as soon as it is here.
  const { deliveries } = useBrought(assessmentId, `${item.id} track`, 'voice');
  const arrived = deliveries.find(stands)?.sound.id;
  const cut = useRef(find);
  useEffect(() => {
    cut.current = find;
  });
  useEffect(() => {
    if (!arrived) return;
    void cut.current(arrived, shortestMs).then(read => read && desk.forget(arrived));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- another length of silences is asked for by its own button
  }, [arrived]);

  return (
    <section aria-label="Conversation" className="grid grid-cols-1 gap-4 border-t border-line pt-4">
      <div className="flex flex-wrap items-center gap-3">
        <h3 className="text-lg">The conversation</h3>
        {turns.length > 0 && (
          <span className="text-sm text-soft">
            {turns.length} {turns.length === 1 ? 'turn' : 'turns'}, runs {clock(run.lengthMs)} without a stop,{' '}
            {inWords(run.speakingMs)} to speak
          </span>
        )}
        {turns.length > 0 &&
          (now ? (
            <Button className="ms-auto" onClick={stop}>
              <Square aria-hidden className="size-5" /> Stop{' '}
              <span className="tabular font-normal">{clock(now.positionMs)}</span>
            </Button>
          ) : (
            <Button className="ms-auto" onClick={() => void hear(turns)}>
              <Play aria-hidden className="size-5" /> Hear the whole run
            </Button>
          ))}
      </div>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      {turns.length > 0 && problems[0] && <Notice kind="trouble">{problems[0]}</Notice>}
      {finding && <Notice>{finding}</Notice>}
      {turns.length > 0 && (
        <ol className="grid grid-cols-1 gap-px border border-line bg-line">
          {turns.map((turn, index) => (
            <TurnRow
              key={turn.id}
              turns={turns}
              index={index}
              open={open === turn.id}
              soundingMs={soundingMs(turn)}
              onOpen={() => setOpen(open === turn.id ? null : turn.id)}
              onHear={() => (soundingMs(turn) === null ? void hear([{ ...turn, gapMs: 0 }]) : stop())}
              onChange={change => onChange(turns.map(t => (t.id === turn.id ? { ...t, ...change } : t)))}
              onTurns={onChange}
            />
          ))}
        </ol>
      )}
      {turns.length > 1 && (
        <div className="flex flex-wrap items-end gap-3">
          <Field label="One gap for all" className="w-32" error={gapProblem}>
            {ties => (
              <LengthInput
                {...ties}
                valueMs={allGapMs}
                leastMs={1_000}
                mostMs={LIMITS.gapMs}
                onProblem={setGapProblem}
                onChange={setAllGapMs}
              />
            )}
          </Field>
          <Button onClick={() => onChange(turns.map(t => ({ ...t, gapMs: allGapMs })))}>
            Give every turn this gap
          </Button>
          {track && (
            <>
              <Field label="Silences count from" className="w-40">
                {ties => (
                  <select
                    {...ties}
                    className={inputClass}
                    value={shortestMs}
                    onChange={e => setShortestMs(Number(e.target.value))}
                  >
                    {SILENCES_MS.map(ms => (
                      <option key={ms} value={ms}>
                        {ms / 1000} s
                      </option>
                    ))}
                  </select>
                )}
              </Field>
              <Button onClick={() => void find(track, shortestMs)}>Find the gaps again</Button>
            </>
          )}
        </div>
      )}
      <div className="grid gap-4 sm:grid-cols-2">
        <div>
          <p className="mb-2 text-sm font-semibold">One more turn</p>
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${item.id} turn`}
            what="turn"
            title="Turn"
            voice={null}
            onChange={voice =>
              voice &&
              onChange([...turns, wholeTurn(voice.recordingId, voice.durationMs, turns.at(-1)?.gapMs)])
            }
          />
        </div>
        <div>
          <p className="mb-2 text-sm font-semibold">All turns from one track; its silences become gaps</p>
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${item.id} track`}
            what="track"
            title="Track"
            voice={null}
            onChange={voice => voice && void find(voice.recordingId, shortestMs)}
          />
        </div>
      </div>
    </section>
  );
}
