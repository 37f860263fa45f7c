import { useEffect, useImperativeHandle, useRef, type ReactNode, type Ref } from 'react';
import { Link } from 'react-router';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { isBack } from '@ecoute/core/timing/sittingState';
import { clock } from '@ecoute/core/timing/words';
import type { CellAnswer, MarkbookCell, MarkbookColumn, MarkbookStudent } from '@ecoute/contract/results';
import { isPlayable } from '../../../parts/AnswerFile';
import { Failed, Loading } from '../../../parts/Loading';
import { HeardInPlace } from '../../../parts/player/HeardInPlace';
import { inTurn } from '../../../parts/player/inTurn';
import { trackOf } from '../../../parts/player/PlayButton';
import type { Track } from '../../../parts/player/player';
import { player } from '../../../parts/player/usePlayer';
import { useStudentPortfoliosQuery } from '../../portfolios/endpoints';
import { Suggest } from '../../portfolios/OfStudent';
import { useCellAnswersQuery } from '../endpoints';
import { cellSaid } from './cellWords';

export interface BesideHandle {
  /** Plays what the cell holds, or stops it. */
  toggle: () => void;
  step: (by: 1 | -1) => void;
}

function Answer({
  answer,
  track,
  full,
  acts,
}: {
  answer: CellAnswer;
  track: Track | null;
  full: number;
  /** What can be done with its recording besides hearing it. */
  acts: ReactNode;
}) {
  const score =
    answer.points === null || answer.carries === 0
      ? ''
      : `${pointsText(toHundredths(answer.points))} / ${pointsText(toHundredths(answer.carries))}`;
  return (
    <li className="border-t border-line py-2">
      <p className="flex items-baseline justify-between gap-3">
        <span className="truncate text-sm" title={answer.prompt}>
          {answer.number} · {answer.prompt || 'spoken prompt'}
        </span>
        <span className="tabular text-sm font-semibold whitespace-nowrap">{score}</span>
      </p>
      {track ? (
        <div className="mt-1 flex items-center gap-2">
          <HeardInPlace
            track={track}
            fullMs={full}
            height={36}
            plays={`answer ${answer.number}`}
            label={`Answer ${answer.number}`}
            notes={answer.notes}
          />
          <span className="tabular text-sm text-soft">
            {answer.durationMs === null ? '' : clock(answer.durationMs)}
          </span>
        </div>
      ) : answer.written !== null ? (
        <p className="mt-1 max-h-24 overflow-y-auto font-passage whitespace-pre-wrap">{answer.written}</p>
      ) : (
        <p className="mt-1 text-sm text-soft">{answer.passed ? 'passed on this item' : 'no answer'}</p>
      )}
      {track && acts}
      {answer.comment !== '' && (
        <p className="mt-1 border-s-3 border-saffron ps-2 text-sm whitespace-pre-wrap">{answer.comment}</p>
      )}
      {answer.notes
        .filter(n => n.words !== '' || n.voiceId)
        .map(n => (
          <p key={n.id} className="mt-1 border-s-3 border-saffron ps-2 text-sm">
            <button
              type="button"
              disabled={!track}
              onClick={() => {
                if (!track) return;
                player.load(track);
                player.seek(n.fromMs);
                void player.play();
              }}
              className="tabular underline underline-offset-2"
            >
              {clock(n.fromMs)}
            </button>{' '}
            {n.words || 'a spoken note'}
          </p>
        ))}
    </li>
  );
}

/** The cell in focus, beside the table: its recordings, scores, comments and notes, and the way to its lane. */
export function Beside({
  classId,
  student,
  column,
  cell,
  handle,
}: {
  classId: string;
  student: MarkbookStudent;
  column: MarkbookColumn;
  cell: MarkbookCell | null;
  handle: Ref<BesideHandle>;
}) {
  const sittingId = cell?.sittingId ?? null;
  const { currentData, error, refetch } = useCellAnswersQuery(sittingId ?? '', { skip: sittingId === null });
  const tracks = (currentData?.answers ?? []).map(a =>
    a.takeId && isPlayable(a.medium)
      ? trackOf(a.takeId, `${student.displayName}, ${a.number}`, 'student', a.durationMs)
      : null,
  );
  const played = tracks.filter(t => t !== null);
  const full = Math.max(1_000, ...(currentData?.answers ?? []).map(a => a.durationMs ?? 0));
  /** Asked to play before it was known what there is. */
  const wants = useRef<string | null>(null);
  const isKnown = currentData !== undefined;
  const toggle = () => {
    if (!isKnown) {
      wants.current = sittingId;
      return;
    }
    const { track, playing } = player.now();
    const at = played.findIndex(t => t.id === track?.id);
    if (at >= 0 && inTurn.now()) void player.toggle();
    else if (at >= 0 && playing) player.pause();
    else inTurn.begin(column.title, played, Math.max(0, at));
  };
  const latest = useRef(toggle);
  useEffect(() => {
    latest.current = toggle;
  });
  useEffect(() => {
    if (!isKnown || wants.current === null) return;
    const isSame = wants.current === sittingId;
    wants.current = null;
    if (isSame) latest.current();
  }, [isKnown, sittingId]);
  useImperativeHandle(handle, () => ({
    toggle,
    step: by => {
      const at = played.findIndex(t => t.id === player.now().track?.id);
      const next = at < 0 ? 0 : at + by;
      if (played[next]) inTurn.begin(column.title, played, next);
    },
  }));
  const mayBeSuggested = cell !== null && isBack(cell.state) && student.kind !== 'guest';
  const { data: of } = useStudentPortfoliosQuery(
    { classId, studentId: student.id },
    { skip: !mayBeSuggested },
  );
  const said = cell && cellSaid(cell, column);
  return (
    <section aria-label="The cell in focus" className="border border-line bg-sheet px-4 py-3">
      <h2 className="text-lg leading-tight font-semibold">{student.displayName}</h2>
      <p className="text-sm text-soft">{column.title}</p>
      {said ? (
        <p className="mt-1 flex flex-wrap items-center gap-x-3 text-sm">
          {said.score !== '' && (
            <span className="tabular text-lg font-semibold">
              {said.score} <span className="text-base font-normal text-soft">{said.of}</span>
            </span>
          )}
          {said.words.map(({ icon: Icon, word }) => (
            <span key={word} className="inline-flex items-center gap-1">
              <Icon aria-hidden className="size-4" />
              {word}
            </span>
          ))}
        </p>
      ) : (
        <p className="mt-1 text-sm">This was not for {student.displayName}.</p>
      )}
      {sittingId === null ? (
        cell?.namesHidden && (
          <p className="mt-2 text-sm text-soft">
            It is heard without names. What was handed in is told by name once its feedback is given.
          </p>
        )
      ) : (
        <>
          <p className="mt-2">
            <Link
              to={`/listen/${column.releaseId}?by=student&sitting=${sittingId}`}
              className="inline-flex min-h-11 items-center font-semibold underline underline-offset-4"
            >
              Open the lane
            </Link>
          </p>
          {currentData ? (
            <ol>
              {currentData.answers.map((answer, i) => (
                <Answer
                  key={answer.itemId}
                  answer={answer}
                  track={tracks[i] ?? null}
                  full={full}
                  acts={
                    mayBeSuggested && answer.takeId ? (
                      <Suggest
                        key={answer.takeId}
                        sittingId={sittingId}
                        takeId={answer.takeId}
                        what={`answer ${answer.number}`}
                        state={of?.suggested.find(s => s.takeId === answer.takeId)?.state ?? null}
                      />
                    ) : null
                  }
                />
              ))}
            </ol>
          ) : error ? (
            <Failed error={error} again={() => void refetch()} />
          ) : (
            <Loading rows={2} />
          )}
        </>
      )}
    </section>
  );
}
