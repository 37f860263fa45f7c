import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { Scoring } from '@ecoute/contract/assessments';
import type { Judgement } from '@ecoute/contract/marking';
import { t } from '../app/i18n';

/** What a student said of their own answer, in short. */
export function judgementWords(scoring: Scoring, judgement: Judgement): string[] {
  const { rubric, scale, kind } = scoring;
  const words: string[] = [];
  if (kind === 'rubric' && rubric)
    for (const { criterionId, level } of judgement.choices) {
      const criterion = rubric.criteria.find(c => c.id === criterionId);
      if (criterion && rubric.levels[level]) words.push(`${criterion.name}: ${rubric.levels[level].name}`);
    }
  if (kind === 'level' && judgement.level !== null && scale[judgement.level])
    words.push(scale[judgement.level]!.name);
  if (judgement.points !== null) {
    if (kind === 'points')
      words.push(t('{{count}} points', { count: Number(pointsText(toHundredths(judgement.points))) }));
    if (kind === t('done')) words.push(judgement.points > 0 ? t('done') : t('not done'));
  }
  return words;
}

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
