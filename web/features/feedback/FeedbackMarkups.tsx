import { countWords, readingFigures, wordsOf } from '@ecoute/core/feedback/runningRecord';
import { wordsOfPart } from '@ecoute/core/words/parts';
import type { Item } from '@ecoute/contract/assessments';
import { blankStimulus } from '@ecoute/contract/blank';
import type { FeedbackItem } from '@ecoute/contract/marking';
import { t } from '../../base/i18n';
import { DrawnOver } from '../../parts/markup/DrawnOver';
import { FlatStimulus } from '../../parts/markup/FlatStimulus';
import { MarkedPassage } from '../../parts/markup/MarkedPassage';
import { ReadingFigures } from '../../parts/markup/ReadingFigures';
import type { Track } from '../../parts/player/player';
import { playFrom } from '../../parts/player/usePlayer';

/** A little before the word, so that it is not over before one listens. */
const RUN_UP_MS = 700;

/** What the teacher marked on the passage, the score or the picture, as the student meets it. */
export function FeedbackMarkups({
  item,
  feedback,
  track,
}: {
  item: Item;
  feedback: FeedbackItem;
  track: Track | null;
}) {
  const stimulusOf = (targetId: string) =>
    item.stimuli.find(s => s.id === targetId) ??
    (targetId === feedback.pictureId
      ? blankStimulus(targetId, 'picture', { recordingId: targetId, words: t('Picture') })
      : null);
  return (
    <>
      {feedback.markups.map(m => {
        const stimulus = stimulusOf(m.targetId);
        if (!stimulus) return null;
        if (m.record) {
          const words = countWords(wordsOf(stimulus.text, stimulus.language));
          const asked = wordsOfPart(stimulus.text, stimulus.language, m.record.part);
          return (
            <section
              key={`${m.targetId} record`}
              aria-label={t('Your reading, word by word')}
              className="grid gap-2 border-s-4 border-saffron ps-4"
            >
              <MarkedPassage
                stimulus={stimulus}
                record={m.record}
                onWord={(_, marks) => {
                  const at = marks.find(mark => mark.atMs !== null)?.atMs;
                  if (!track || at == null) return;
                  playFrom(track, Math.max(0, at - RUN_UP_MS));
                }}
              />
              <ReadingFigures figures={readingFigures(words, m.record, feedback.durationMs, asked)} />
              {track && (
                <p className="text-sm text-soft">{t('A marked word plays from where it was said.')}</p>
              )}
            </section>
          );
        }
        return (
          <figure
            key={`${m.targetId} drawing`}
            className="max-w-[900px] min-w-0 border-s-4 border-saffron ps-4"
          >
            <figcaption className="mb-1 text-sm text-soft">{t('Drawn by your teacher')}</figcaption>
            {/* On a phone it is moved sideways: smaller, nobody could read it. */}
            <div
              className="overflow-x-auto"
              tabIndex={0}
              role="group"
              aria-label={t('Drawn by your teacher')}
            >
              <div className="min-w-[38rem]">
                <DrawnOver drawing={m.drawing}>
                  <FlatStimulus stimulus={stimulus} />
                </DrawnOver>
              </div>
            </div>
          </figure>
        );
      })}
    </>
  );
}
