import type { Item } from '@ecoute/contract/assessments';
import { PromptWords } from '../../parts/PromptWords';
import { shortPrompt } from '../../parts/shortPrompt';
import { PlayButton } from '../../parts/player/PlayButton';
import type { Track } from '../../parts/player/player';
import { Strip } from '../../parts/strip/Strip';
import { isAnswered } from './order';
import type { LaneFocus } from './useLaneFocus';

/** Where one is: the strip with the item in focus, and its prompt to be read and heard. */
export function NowStrip({
  items,
  item,
  prompt,
  focus,
}: {
  items: Item[];
  /** The item in focus. */
  item: Item;
  /** Its prompt, spoken; null where nothing is heard. */
  prompt: Track | null;
  focus: LaneFocus;
}) {
  const { arrangement, groups, group } = focus;
  const answered = new Set(group.lanes.filter(isAnswered).map(l => l.itemId));
  return (
    <>
      <Strip
        items={items}
        current={item.id}
        answered={arrangement === 'student' ? answered : undefined}
        onChoose={focus.toItem}
      />
      <div className="flex items-center gap-3 py-1">
        {prompt && <PlayButton track={prompt} label="the prompt" text="Prompt" />}
        {item.promptRich || item.stimuli.length > 0 || item.promptIsVideo ? (
          <details className="min-w-0 flex-1">
            <summary className="cursor-pointer truncate font-passage">{shortPrompt(item)}</summary>
            <div className="max-h-[50vh] overflow-y-auto bg-sheet p-4">
              <PromptWords item={item} />
            </div>
          </details>
        ) : (
          <p className="min-w-0 flex-1 truncate font-passage">{shortPrompt(item)}</p>
        )}
        {arrangement === 'student' && (
          <select
            aria-label="Student"
            value={group.id}
            onChange={e => focus.toGroup(e.target.value)}
            className="min-h-11 border-2 border-edge bg-sheet px-2"
          >
            {groups.map(g => (
              <option key={g.id} value={g.id}>
                {g.name}
              </option>
            ))}
          </select>
        )}
      </div>
    </>
  );
}
