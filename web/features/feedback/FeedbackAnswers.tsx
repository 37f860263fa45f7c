import { Check } from 'lucide-react';
import type { Ask, AskKind, Reply } from '@ecoute/contract/replies';
import { refusalOf } from '../../base/api';
import { t } from '../../base/i18n';
import { useMe } from '../../base/useMe';
import { Button } from '../../parts/Button';
import { Exchange } from '../../parts/Exchange';
import { Notice } from '../../parts/Notice';
import { ReplyForm } from '../../parts/ReplyForm';
import { useReplyMutation } from './endpoints';

/** What the student is asked to do, in a sentence to them. */
export const ASKED: Record<AskKind, string> = {
  acknowledge: 'Say that you have heard this.',
  reply: 'Reply to this.',
  change: 'Say what you would change.',
  recordAgain: 'Record it again.',
};

/** What was said about an item or the whole since the feedback, and what the teacher still waits for. */
export function FeedbackAnswers({
  sittingId,
  itemId,
  asks,
  replies,
}: {
  sittingId: string;
  itemId: string | null;
  asks: readonly Ask[];
  replies: readonly Reply[];
}) {
  const me = useMe();
  const [reply, replying] = useReplyMutation();
  const open = asks.filter(a => a.answeredAt === null);
  const refusal = refusalOf(replying.error);
  if (open.length === 0 && replies.length === 0) return null;
  const form = (ask: Ask | null) => {
    const about = { itemId, askId: ask?.id ?? null };
    return (
      <ReplyForm
        key={`${ask?.id} ${replies.length}`}
        label={ask ? t('Your answer') : t('Write back')}
        voiceOnly={ask?.kind === 'recordAgain'}
        url={`/api/sittings/${sittingId}/replies`}
        about={about}
        onSend={said => reply({ sittingId, ...about, ...said }).unwrap()}
      />
    );
  };
  return (
    <section aria-label={t('Answer your teacher')} className="grid gap-3">
      <Exchange asks={asks} replies={replies} studentName={me.displayName} />
      {open.map(ask => (
        <div
          key={ask.id}
          id={`ask-${ask.id}`}
          tabIndex={-1}
          className="grid scroll-mt-24 gap-2 border-2 border-saffron p-3"
        >
          <p className="font-semibold">
            {ask.askedBy}: {t(ASKED[ask.kind])}
          </p>
          {ask.words && (
            <p dir="auto" className="whitespace-pre-wrap">
              {ask.words}
            </p>
          )}
          {ask.kind === 'acknowledge' ? (
            <Button
              look="main"
              className="justify-self-start"
              disabled={replying.isLoading}
              onClick={() =>
                void reply({ sittingId, id: crypto.randomUUID(), itemId, askId: ask.id, words: '' })
              }
            >
              <Check aria-hidden className="size-5" /> {t('I have heard it')}
            </Button>
          ) : (
            form(ask)
          )}
        </div>
      ))}
      {open.length === 0 && replies.length > 0 && form(null)}
      {refusal && refusal.status > 0 && <Notice kind="trouble">{t(refusal.message)}</Notice>}
    </section>
  );
}
