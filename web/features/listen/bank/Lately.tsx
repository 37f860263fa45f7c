import { serverNow } from '../../../base/clock';
import { Button } from '../../../parts/Button';
import { counted } from '../../../parts/counted';
import { when } from '../../../parts/when';
import {
  useBankLatelyQuery,
  usePutBankCommentBackMutation,
  usePutTopicBackMutation,
  useUndoBankImportMutation,
} from './endpoints';

/** So long is something just done. */
const FRESH_MS = 2 * 60_000;

/** What was brought in and taken away in the last thirty days, each with its way back. */
export function Lately() {
  const { data } = useBankLatelyQuery(undefined, { refetchOnMountOrArgChange: true });
  const [takeOut] = useUndoBankImportMutation();
  const [topicBack] = usePutTopicBackMutation();
  const [commentBack] = usePutBankCommentBackMutation();
  if (!data) return null;
  const lines = [
    ...data.imports.map(i => ({
      key: i.id,
      at: i.madeAt,
      words: `${i.fileName}: ${counted(i.comments, 'comment')} brought in`,
      act: 'Take them out',
      run: () => void takeOut(i.id),
    })),
    ...data.topics.map(x => ({
      key: x.id,
      at: x.removedAt,
      words: `The topic “${x.name}” with ${counted(x.comments, 'comment')} taken away`,
      act: 'Put it back',
      run: () => void topicBack(x.id),
    })),
    ...data.comments.map(c => ({
      key: c.id,
      at: c.removedAt,
      words: `“${c.words.slice(0, 80)}” taken out of ${c.topicName}`,
      act: 'Put it back',
      run: () => void commentBack({ topicId: c.topicId, id: c.id }),
    })),
  ].sort((a, b) => b.at.localeCompare(a.at));
  if (lines.length === 0) return null;
  const [first, ...rest] = lines;
  const isFresh = serverNow() - Date.parse(first!.at) < FRESH_MS;
  const line = ({ key, at, words, act, run }: (typeof lines)[number]) => (
    <li key={key} className="flex items-center gap-3 bg-sheet px-4 py-1">
      <span dir="auto" className="min-w-0 flex-1 truncate" title={words}>
        {words}
      </span>
      <span className="shrink-0 text-sm text-soft max-sm:hidden">{when(at)}</span>
      <Button look="quiet" aria-label={`${act}: ${words}`} onClick={run}>
        {act}
      </Button>
    </li>
  );
  return (
    // What was just done far down the page keeps its way back in sight.
    <section
      aria-label="Brought in or taken away lately"
      className={isFresh ? 'sticky top-0 z-20 border-b-2 border-edge bg-ground' : ''}
    >
      <ul className="grid grid-cols-1 gap-px bg-line">{line(first!)}</ul>
      {rest.length > 0 && (
        <details>
          <summary className="min-h-11 cursor-pointer px-4 py-2 text-sm">
            {rest.length} more that can be undone
          </summary>
          <ul className="grid max-h-[40dvh] grid-cols-1 gap-px overflow-y-auto bg-line">{rest.map(line)}</ul>
        </details>
      )}
    </section>
  );
}
