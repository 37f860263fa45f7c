import type { Scoring } from '@ecoute/contract/assessments';
import type { Judgement } from '@ecoute/contract/judgements';
import { judgementWords } from './judgementWords';

/** The student's own judgement, in the student's colour. */
export function JudgementView({
  scoring,
  judgement,
  title,
}: {
  scoring: Scoring;
  judgement: Judgement;
  /** Whose judgement it is: “You said”, “Amara says”. */
  title: string;
}) {
  const words = judgementWords(scoring, judgement);
  if (words.length === 0 && !judgement.remark) return null;
  return (
    <div className="border-s-4 border-petrol bg-petrol-wash px-4 py-2">
      <p>
        <span className="text-sm text-petrol-ink">{title}</span> {words.join(' · ')}
      </p>
      {judgement.remark && <p className="whitespace-pre-wrap">{judgement.remark}</p>}
    </div>
  );
}
