import { Check } from 'lucide-react';
import type { Ask, Reply } from '@ecoute/contract/replies';
import { clock } from '@ecoute/core/timing/words';
import { t } from '../base/i18n';
import { PlayButton, trackOf } from './player/PlayButton';
import { when } from './when';

function Voice({ reply, name }: { reply: Reply; name: string }) {
  if (!reply.voiceId) return null;
  if (reply.voiceState !== 'stored')
    return (
      <span className="text-sm text-soft">
        {reply.voiceState === 'refused' ? t('nothing can be heard of this reply') : t('on its way')}
      </span>
    );
  return (
    <PlayButton
      track={trackOf(reply.voiceId, name, reply.fromStudent ? 'student' : 'teacher', reply.voiceMs)}
      label={t('the reply of {{name}}', { name })}
      text={reply.voiceMs === null ? undefined : clock(reply.voiceMs)}
    />
  );
}

/** What was said about an answer since the feedback, in order: the student on one side, the teacher on the other. */
export function Exchange({
  asks,
  replies,
  studentName,
}: {
  asks: readonly Ask[];
  replies: readonly Reply[];
  /** What the student is called here. */
  studentName: string;
}) {
  if (replies.length === 0) return null;
  return (
    <ol aria-label={t('Exchange')} className="grid gap-2">
      {replies.map(reply => {
        const name = reply.fromStudent ? studentName : reply.authorName;
        const ask = asks.find(a => a.id === reply.askId);
        return (
          <li
            key={reply.id}
            className={`grid max-w-2xl gap-1 border-s-4 px-3 py-2 ${
              reply.fromStudent ? 'border-petrol bg-petrol-wash' : 'ms-8 border-saffron bg-saffron-wash'
            }`}
          >
            <span className="flex flex-wrap items-center gap-3">
              <Voice reply={reply} name={name} />
              {reply.words !== '' && (
                <span dir="auto" className="min-w-0 flex-1 whitespace-pre-wrap">
                  {reply.words}
                </span>
              )}
              {reply.words === '' && !reply.voiceId && ask && (
                <span className="inline-flex items-center gap-1.5">
                  <Check aria-hidden className="size-5" /> {t('heard it')}
                </span>
              )}
            </span>
            <span className="text-sm text-soft">
              {name}, {when(reply.madeAt)}
            </span>
          </li>
        );
      })}
    </ol>
  );
}
