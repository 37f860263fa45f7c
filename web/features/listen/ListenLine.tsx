import { ChevronsUp } from 'lucide-react';
import { useEffect, useState, type ReactNode, type RefObject } from 'react';
import { inWords } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import type { ListenView } from '@ecoute/contract/marking';
import { shortPrompt } from '../../parts/shortPrompt';
import { Button } from '../../parts/Button';
import { PlayButton } from '../../parts/player/PlayButton';
import type { Track } from '../../parts/player/player';
import { waitingMs, waits } from './order';
import type { Finished } from './desk/useFinished';
import type { LaneFocus } from './useLaneFocus';

const selectClass = 'min-h-10 min-w-0 border-2 border-edge bg-sheet px-2';

/** All that is left of title, filters and strip while one listens: which item or student this is, its prompt, how much is to go. */
export function ListenLine({
  view,
  item,
  prompt,
  focus,
  head,
  onTop,
  finished,
  onUndo,
  says,
}: {
  view: ListenView;
  /** The item in focus. */
  item: Item;
  /** Its prompt, spoken; null where nothing is heard. */
  prompt: Track | null;
  focus: LaneFocus;
  /** Title, filters and strip, which scroll away. */
  head: RefObject<HTMLElement | null>;
  /** Title, filters and strip are wanted back. */
  onTop: () => void;
  /** The answer that was finished last, while that can be taken back: said here, where it covers nothing. */
  finished: Finished | null;
  onUndo: () => void;
  /** Something else that was just done, in place of both. */
  says: ReactNode;
}) {
  const { arrangement, groups, group } = focus;
  const waiting = group.lanes.filter(waits);
  const { items } = view.content;
  // On a phone what was just done has the line to itself.
  const aside = says ? 'max-sm:hidden' : '';
  /** Title and strip are out of sight. */
  const [isAlone, setAlone] = useState(false);
  useEffect(() => {
    const above = head.current;
    if (!above) return;
    const looks = new IntersectionObserver(([seen]) => setAlone(!seen!.isIntersecting));
    looks.observe(above);
    return () => looks.disconnect();
  }, [head]);
  return (
    <div
      data-testid="listen-line"
      className="flex h-12 items-center gap-x-3 border-b max-sm:gap-x-2 border-line bg-ground"
    >
      {isAlone && (
        <button
          type="button"
          onClick={onTop}
          title="Title, filters and strip (T)"
          className="flex min-h-10 min-w-0 shrink items-center gap-1 font-semibold max-md:shrink-0"
        >
          <ChevronsUp aria-hidden className="size-5 shrink-0" />
          <span className="truncate max-md:sr-only md:max-w-40">{view.title}</span>
        </button>
      )}
      {arrangement === 'student' ? (
        <select
          aria-label="Student"
          value={group.id}
          onChange={e => focus.toGroup(e.target.value)}
          className={`${selectClass} max-w-44 ${aside}`}
        >
          {groups.map(g => (
            <option key={g.id} value={g.id}>
              {g.name}
            </option>
          ))}
        </select>
      ) : (
        items.length > 1 && (
          <select
            aria-label="Item"
            value={item.id}
            onChange={e => focus.toItem(e.target.value)}
            className={`${selectClass} shrink-0 max-sm:min-w-20 max-sm:shrink ${aside}`}
          >
            {groups.map(g => (
              <option key={g.id} value={g.id}>
                {g.name}
              </option>
            ))}
          </select>
        )
      )}
      {prompt && (
        <span className={`shrink-0 ${aside}`}>
          <PlayButton track={prompt} label="the prompt" text="Prompt" />
        </span>
      )}
      {says && <div className="flex min-w-0 flex-1 items-center justify-end gap-2">{says}</div>}
      {!finished && !says && (
        <p className="min-w-0 flex-1 truncate font-passage max-sm:invisible">{shortPrompt(item)}</p>
      )}
      <p
        role="status"
        className={finished && !says ? 'flex min-w-0 flex-1 items-center justify-end gap-2' : 'sr-only'}
      >
        {finished && !says && (
          <>
            <span className="truncate font-semibold">
              {finished.words}: {finished.lane.studentName}
            </span>
            <Button look="quiet" className="!min-h-10 shrink-0 !px-1" onClick={onUndo}>
              Undo<span className="pointer-coarse:hidden">(Z)</span>
            </Button>
          </>
        )}
      </p>
      <p className={`tabular shrink-0 text-sm text-soft ${finished || says ? 'max-sm:hidden' : ''}`}>
        <span className={waiting.length === 0 ? 'sm:hidden' : ''}>{waiting.length} to mark</span>
        {waiting.length === 0 && (
          <span className="max-sm:hidden">
            nothing to mark {arrangement === 'item' ? 'on this item' : 'here'}
          </span>
        )}
        {waiting.length > 0 && <span className="max-md:hidden">, {inWords(waitingMs(waiting))}</span>}
      </p>
    </div>
  );
}
