import type { ReadingFigures as Figures } from '@ecoute/core/feedback/runningRecord';
import { t } from '../../base/i18n';

const one = (n: number) => String(Math.round(n * 10) / 10);

/** The figures of a running record in a line of words. */
export function ReadingFigures({ figures }: { figures: Figures }) {
  const {
    words,
    wordsCorrect,
    insertions,
    accuracy,
    wordsCorrectPerMinute,
    selfCorrections,
    selfCorrectionOneIn,
    errors,
  } = figures;
  const parts = [
    // What was put in is an error as well, though no word of the passage was wrong: else accuracy cannot be reckoned from it.
    insertions > 0
      ? t('{{correct}} of {{words}} words right, put in: {{n}}', {
          correct: wordsCorrect,
          words,
          n: insertions,
        })
      : t('{{correct}} of {{words}} words right', { correct: wordsCorrect, words }),
    accuracy !== null && t('{{percent}} % accuracy', { percent: one(accuracy * 100) }),
    wordsCorrectPerMinute !== null &&
      t('{{n}} words correct a minute', { n: Math.round(wordsCorrectPerMinute) }),
    t('errors: {{n}}', { n: errors }),
    selfCorrectionOneIn === null
      ? t('self-corrections: {{n}}', { n: selfCorrections })
      : t('self-corrections: {{n}} (1 in {{of}})', { n: selfCorrections, of: one(selfCorrectionOneIn) }),
  ].filter(part => part !== false);
  return (
    <ul aria-label={t('Figures of the reading')} className="tabular flex flex-wrap gap-x-5">
      {parts.map(part => (
        <li key={part}>{part}</li>
      ))}
    </ul>
  );
}
