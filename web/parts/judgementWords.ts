import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { Scoring } from '@ecoute/contract/assessments';
import type { Judgement } from '@ecoute/contract/judgements';
import { t } from '../base/i18n';

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
