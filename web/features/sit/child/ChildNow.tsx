import { ArrowLeft, ArrowRight, Menu, MessageCircleHeart, Play, Smile } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { TodoEntry } from '@ecoute/contract/sittings';
import type { MessageToMe } from '@ecoute/contract/spokenMessages';
import { t } from '../../../base/i18n';
import { useTitle } from '../../../base/useTitle';
import { Failed, Loading } from '../../../parts/Loading';
import { SmallStrip } from '../../../parts/strip/Strip';
import { useMessageHeardMutation, useToldMeQuery } from '../../messages/endpoints';
import { useTodoQuery } from '../endpoints';
import { isOpenEntry } from '../lists/openEntry';
import { ChildFrame, Shape } from './ChildFrame';
import { useVoice } from './useVoice';
import type { Says } from './voice';

/** Shapes by which a child knows one card from the next; in the order of the list. */
const MARKS = ['●', '▲', '■', '★', '◆', '✚'];

/** One card after the other: what is to do first, then what the teacher says of what was done. */
export default function ChildNow({ onWords }: { onWords: () => void }) {
  useTitle(t('Now'));
  const navigate = useNavigate();
  const { data, error, isLoading, refetch } = useTodoQuery(undefined, {
    pollingInterval: 60_000,
    refetchOnMountOrArgChange: true,
  });
  const [heard] = useMessageHeardMutation();
  const [playedHere, setPlayedHere] = useState<readonly string[]>([]);
  const [at, setAt] = useState(0);
  const open = (data ?? []).filter(isOpenEntry);
  const back = (data ?? []).filter(e => !open.includes(e) && e.feedbackSittingId).reverse();
  // What a teacher has said comes first, and stays while it is heard.
  const messages = useToldMeQuery();
  const told = (messages.data ?? []).filter(m => !m.heardAt || playedHere.includes(m.id));
  const cards: (TodoEntry | MessageToMe)[] = [...told, ...open, ...back];
  const card = cards[Math.min(at, cards.length - 1)];
  const message = card && 'voiceId' in card ? card : null;
  const entry = card && !('voiceId' in card) ? card : undefined;
  const isOpen = entry !== undefined && open.includes(entry);
  const says: Says[] | null =
    !data || messages.isLoading
      ? null
      : message
        ? [{ recordingId: message.voiceId }]
        : !entry
          ? [{ word: 'nothing' }]
          : [
              { text: entry.title, url: `/api/releases/${entry.releaseId}/spoken` },
              ...(isOpen ? [{ word: 'begin' as const }] : []),
            ];
  const voice = useVoice(
    says,
    message ? `said ${message.id}` : entry ? `${entry.releaseId} ${String(isOpen)}` : 'nothing',
  );
  if (isLoading || messages.isLoading) return <Loading height={96} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const go = () => {
    if (message) {
      if (!message.heardAt) void heard(message.id);
      setPlayedHere([...playedHere, message.id]);
      voice.again();
    }
    if (!entry) return;
    voice.stop();
    const again = entry.askedAgainFor !== null && !entry.goesOn ? '?another' : '';
    void navigate(isOpen ? `/sit/${entry.releaseId}${again}` : `/feedback/${entry.feedbackSittingId}`);
  };
  const turn = (by: number) => () =>
    setAt((Math.min(at, cards.length - 1) + by + cards.length) % cards.length);
  const place = Math.min(at, Math.max(0, cards.length - 1));
  return (
    <ChildFrame
      label={card?.title ?? t('Now')}
      voice={voice}
      onLeave={null}
      corner={
        <button
          type="button"
          onClick={() => {
            voice.stop();
            onWords();
          }}
          className="flex min-h-14 shrink-0 items-center gap-2 px-3 text-sm underline underline-offset-4"
        >
          <Menu aria-hidden className="size-6" /> {t('In words')}
        </button>
      }
      actions={
        card && (
          <>
            {cards.length > 1 && (
              <Shape icon={ArrowLeft} kind="plain" small label={t('The one before')} onPress={turn(-1)} />
            )}
            <Shape
              icon={message ? Play : isOpen ? ArrowRight : MessageCircleHeart}
              kind={isOpen ? 'go' : 'hear'}
              calls={!voice.isSpeaking}
              label={
                message
                  ? t('Hear it')
                  : isOpen
                    ? entry.goesOn
                      ? t('Go on')
                      : t('Begin')
                    : t('Hear the feedback')
              }
              onPress={go}
            />
            {cards.length > 1 && (
              <Shape icon={ArrowRight} kind="plain" small label={t('The one after')} onPress={turn(1)} />
            )}
          </>
        )
      }
    >
      {card ? (
        <div className="grid w-full max-w-xl justify-items-center gap-6">
          <span aria-hidden className="text-[7rem] leading-none text-petrol-ink low:text-[4rem]">
            {MARKS[place % MARKS.length]}
          </span>
          <h1 dir="auto" className="text-center text-3xl">
            {card.title}
          </h1>
          {entry && (
            <div className="w-full">
              <SmallStrip items={entry.outline.items} answered={new Set(entry.answeredItemIds)} />
            </div>
          )}
          {cards.length > 1 && (
            <span aria-hidden className="flex gap-2">
              {cards.map((one, n) => (
                <span
                  key={'voiceId' in one ? one.id : one.releaseId}
                  className={`size-4 rounded-full border-2 border-ink ${n === place ? 'bg-ink' : ''}`}
                />
              ))}
            </span>
          )}
        </div>
      ) : (
        <Smile aria-hidden className="size-48 text-petrol-ink low:size-32" />
      )}
    </ChildFrame>
  );
}
