import { Play } from 'lucide-react';
import type { TurnSpeech } from '@ecoute/core/audio/turns';
import { answersIn } from '@ecoute/core/timing/conversation';
import type { PlacedTake } from '@ecoute/core/timing/takeClock';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { inFigures } from '../figureWords';
import type { Track } from './player';
import { player, usePositionOf } from './usePlayer';
import { t } from '../../base/i18n';

/** The answers of a conversation, each its own labelled stretch of the one recording; pressing plays from there. */
export function TurnAnswers({
  item,
  track,
  placed,
  measured,
}: {
  item: Item;
  track: Track;
  placed?: PlacedTake;
  /** What was said in each gap, where it was measured and may be seen. */
  measured?: readonly TurnSpeech[] | null;
}) {
  const position = usePositionOf(track.id);
  const lengthMs = track.durationMs ?? Infinity;
  return (
    <ol className="flex flex-wrap gap-2" aria-label={t('Answers in this conversation')}>
      {answersIn(item.turns, placed).map((answer, n) => {
        const here = position !== null && position >= answer.startMs && position < answer.endMs;
        const says = item.turns[answer.index]!.says;
        const speech = measured?.[n];
        return (
          <li key={answer.turnId}>
            <button
              type="button"
              disabled={answer.startMs >= lengthMs}
              aria-current={here || undefined}
              onClick={() => {
                void player.play(track);
                player.seek(answer.startMs);
              }}
              className="inline-flex min-h-10 items-center gap-2 border border-petrol bg-sheet px-3 text-sm text-petrol-ink aria-[current]:bg-petrol-wash disabled:opacity-50"
            >
              <Play aria-hidden className="size-4" />
              <span className="font-semibold">{answer.index + 1}</span>
              <span className="max-w-56 truncate">{says}</span>
              <span className="tabular">{clock(answer.endMs - answer.startMs)}</span>
              {speech && (
                <span className="text-soft">
                  {speech.latencySec === null
                    ? t('nothing said')
                    : t('begins after {{latency}} s, speaks {{speaking}} s', {
                        latency: inFigures(speech.latencySec, 1),
                        speaking: inFigures(speech.speakingSec, 1),
                      })}
                </span>
              )}
            </button>
          </li>
        );
      })}
    </ol>
  );
}
