import { ArrowLeft, ArrowRight, Menu, MessageCircleHeart, Smile } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { TodoEntry } from '@ecoute/contract/sittings';
import { t } from '../../../base/i18n';
import { useTitle } from '../../../base/useTitle';
import { Failed, Loading } from '../../../parts/Loading';
import { SmallStrip } from '../../../parts/strip/Strip';
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
  const [at, setAt] = useState(0);
  const open = (data ?? []).filter(isOpenEntry);
  const back = (data ?? []).filter(e => !open.includes(e) && e.feedbackSittingId).reverse();
  const cards: TodoEntry[] = [...open, ...back];
  const entry = cards[Math.min(at, cards.length - 1)];
  const isOpen = entry !== undefined && open.includes(entry);
  const says: Says[] | null = !data
    ? null
    : !entry
      ? [{ word: 'nothing' }]
      : [
          { text: entry.title, url: `/api/releases/${entry.releaseId}/spoken` },
          ...(isOpen ? [{ word: 'begin' as const }] : []),
        ];
  const voice = useVoice(says, entry ? `${entry.releaseId} ${String(isOpen)}` : 'nothing');
  if (isLoading) return <Loading height={96} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const go = () => {
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
      label={entry?.title ?? t('Now')}
      voice={voice}
      onLeave={null}
      actions={
        entry && (
          <>
            {cards.length > 1 && (
              <Shape icon={ArrowLeft} kind="plain" small label={t('The one before')} onPress={turn(-1)} />
            )}
            <Shape
              icon={isOpen ? ArrowRight : MessageCircleHeart}
              kind={isOpen ? 'go' : 'hear'}
              calls={!voice.isSpeaking}
              label={isOpen ? (entry.goesOn ? t('Go on') : t('Begin')) : t('Hear the feedback')}
              onPress={go}
            />
            {cards.length > 1 && (
              <Shape icon={ArrowRight} kind="plain" small label={t('The one after')} onPress={turn(1)} />
            )}
          </>
        )
      }
    >
      {entry ? (
        <div className="grid w-full max-w-xl justify-items-center gap-6">
          <span aria-hidden className="text-[7rem] leading-none text-petrol-ink low:text-[4rem]">
            {MARKS[place % MARKS.length]}
          </span>
          <h1 dir="auto" className="text-center text-3xl">
            {entry.title}
          </h1>
          <div className="w-full">
            <SmallStrip items={entry.outline.items} answered={new Set(entry.answeredItemIds)} />
          </div>
          {cards.length > 1 && (
            <span aria-hidden className="flex gap-2">
              {cards.map((card, n) => (
                <span
                  key={card.releaseId}
                  className={`size-4 rounded-full border-2 border-ink ${n === place ? 'bg-ink' : ''}`}
                />
              ))}
            </span>
          )}
        </div>
      ) : (
        <Smile aria-hidden className="size-48 text-petrol-ink low:size-32" />
      )}
      <button
        type="button"
        onClick={() => {
          voice.stop();
          onWords();
        }}
        className="absolute start-3 top-3 flex min-h-14 items-center gap-2 px-3 text-sm underline underline-offset-4"
      >
        <Menu aria-hidden className="size-6" /> {t('In words')}
      </button>
    </ChildFrame>
  );
}
