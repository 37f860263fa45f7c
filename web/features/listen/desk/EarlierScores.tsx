import type { AssessmentContent } from '@ecoute/contract/assessments';
import type { Lane } from '@ecoute/contract/marking';
import { counted } from '../../../parts/counted';
import { Loading } from '../../../parts/Loading';
import { when } from '../../../parts/when';
import { useScoresQuery } from '../endpoints';

/** Who gave what when, and why it changed; nothing where a score holds since it was first given. */
export function EarlierScores({ lane, content }: { lane: Lane; content: AssessmentContent }) {
  const changed = (lane.mark?.finished && lane.mark.revision > 1) || lane.levelRevision > 1;
  const { data } = useScoresQuery(lane.sittingId, { skip: !changed });
  if (!changed) return null;
  const marks = data?.marks.filter(m => m.itemId === lane.itemId) ?? [];
  const words = (points: number | null) =>
    points === null
      ? 'finished'
      : content.scoring.kind === 'done'
        ? points > 0
          ? 'done'
          : 'not done'
        : counted(points, 'point');
  return (
    <section aria-label="Earlier scores">
      <h2 className="font-semibold">Earlier scores</h2>
      {!data ? (
        <Loading rows={1} />
      ) : (
        <ol className="border-s-2 border-line ps-4">
          {marks.map((m, i) => (
            <li key={i} className="py-0.5">
              <strong>{words(m.points)}</strong>
              {i === 0 && ' (holds)'} · {m.authorName}, {when(m.at)}
              {m.reason && <> · “{m.reason}”</>}
              {marks[i + 1] && m.comment !== marks[i + 1]!.comment && (
                <span className="text-soft"> · comment: “{m.comment}”</span>
              )}
            </li>
          ))}
          {data.levels.map((l, i) => (
            <li key={`level ${i}`} className="py-0.5">
              <strong>{l.level === null ? 'no level' : content.scoring.scale[l.level]?.name}</strong>
              {i === 0 && ' (holds)'} · {l.authorName}, {when(l.at)}
              {l.reason && <> · “{l.reason}”</>}
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
