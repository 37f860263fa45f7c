import { Link } from 'react-router';
import { CornerDownRight } from 'lucide-react';
import { clock } from '@ecoute/core/timing/words';
import type { TalkInLane } from '@ecoute/contract/marking';
import { t } from '../../base/i18n';
import { when } from '../../parts/when';

/** Everything that somebody said in a discussion, to choose which is heard with what came back on it. */
export default function OwnTalk({
  talk,
  chosen,
  releaseId,
  onChoose,
}: {
  talk: TalkInLane;
  chosen: string | null;
  releaseId: string;
  onChoose: (id: string) => void;
}) {
  return (
    <div className="grid gap-2">
      <ol className="grid gap-px" aria-label={t('What you said')}>
        {talk.contributions.map(c => (
          <li key={c.id}>
            <button
              type="button"
              aria-pressed={c.id === chosen}
              onClick={() => onChoose(c.id)}
              className="flex min-h-11 w-full flex-wrap items-center gap-x-3 border-s-4 border-petrol bg-petrol-wash px-3 text-start aria-pressed:border-ink aria-pressed:font-semibold"
            >
              <span>{when(c.at)}</span>
              {c.to && (
                <span dir="auto" className="inline-flex items-center gap-1">
                  <CornerDownRight aria-hidden className="size-4" />
                  {c.to.authorName ? t('to {{whom}}', { whom: c.to.authorName }) : t('a reply')}
                </span>
              )}
              {c.afterFeedback && <span>{t('after the feedback')}</span>}
              {c.title && <span dir="auto">{c.title}</span>}
              {c.notes.length > 0 && (
                <span className="bg-saffron-wash px-2 text-saffron-ink">
                  {t('notes on it: {{n}}', { n: c.notes.length })}
                </span>
              )}
              <span className="tabular ms-auto">
                {c.durationMs === null ? t('in writing') : clock(c.durationMs)}
              </span>
            </button>
          </li>
        ))}
      </ol>
      <Link
        to={`/discussion/${releaseId}`}
        className="inline-flex min-h-11 items-center justify-self-start underline underline-offset-4"
      >
        {t('To the discussion')}
      </Link>
    </div>
  );
}
