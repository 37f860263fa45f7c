import { Eraser, PencilLine, Type, Undo2, X } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useState } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { blankStimulus } from '@ecoute/contract/blank';
import type { Lane } from '@ecoute/contract/marking';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { Button } from '../../../parts/Button';
import { lazyPart } from '../../../parts/lazyPart';
import { Loading } from '../../../parts/Loading';
import { DrawnOver } from '../../../parts/markup/DrawnOver';
import type { Tool } from '../../../parts/markup/tool';
import { FlatStimulus } from '../../../parts/markup/FlatStimulus';
import { MarkupTrouble } from './MarkupTrouble';
import { useMarkup } from './useMarkup';

const KIND_WORDS: Partial<Record<Stimulus['kind'], string>> = {
  picture: 'the picture',
  pages: 'the page',
  notation: 'the score',
  passage: 'the passage',
};

/** Pen, text and eraser over something of the item. */
function Draw({ lane, stimulus }: { lane: Lane; stimulus: Stimulus }) {
  const [tool, setTool] = useState<Tool>('pen');
  const markup = useMarkup(
    { sittingId: lane.sittingId, itemId: lane.itemId, targetId: stimulus.id },
    'drawing',
  );
  return (
    <div className="grid gap-2">
      <div className="sticky -top-3 z-10 flex flex-wrap items-center gap-3 bg-sheet py-1">
        <ToggleGroup.Root
          type="single"
          aria-label="Draw with"
          value={tool}
          onValueChange={v => v && setTool(v as Tool)}
          className="flex border-2 border-edge"
        >
          {(
            [
              ['pen', PencilLine, 'pen'],
              ['text', Type, 'text'],
              ['erase', Eraser, 'eraser'],
            ] as const
          ).map(([value, Icon, words]) => (
            <ToggleGroup.Item
              key={value}
              value={value}
              className="flex min-h-10 items-center gap-2 px-3 data-[state=on]:bg-ink data-[state=on]:text-sheet"
            >
              <Icon aria-hidden className="size-4" /> {words}
            </ToggleGroup.Item>
          ))}
        </ToggleGroup.Root>
        <Button look="quiet" disabled={!markup.mayUndo} onClick={markup.undo}>
          <Undo2 aria-hidden className="size-5" /> Undo
        </Button>
      </div>
      <div className="max-w-[900px] border-2 border-line">
        <DrawnOver drawing={markup.shown} tool={tool} onDraw={markup.change}>
          <FlatStimulus stimulus={stimulus} />
        </DrawnOver>
      </div>
      {/* Under the sheet: what comes and goes beside the tools would move it under the pen. */}
      <span role="status" className="min-h-5 text-sm text-soft">
        {markup.isSaving ? 'Saving …' : ''}
      </span>
      <MarkupTrouble trouble={markup.trouble} settle={markup.settle} />
    </div>
  );
}

function targetsOf(lane: Lane, item: Item): Stimulus[] {
  const own = lane.pictureId
    ? [blankStimulus(lane.pictureId, 'picture', { recordingId: lane.pictureId, words: lane.title })]
    : [];
  return [...own, ...item.stimuli.filter(s => KIND_WORDS[s.kind])];
}

function NoRecord() {
  return (
    <p>
      The running record could not be fetched just now. Check the connection and open this page once more.
    </p>
  );
}
/** Fetched when a reading is first marked. */
const PassageRecord = lazyPart(() => import('./PassageRecord'), {
  waiting: <Loading rows={2} />,
  missing: NoRecord,
});

/** Whether there is anything on a lane that can be marked. */
export const hasMarkups = (lane: Lane, item: Item) => targetsOf(lane, item).length > 0;

/** What of a lane can be marked: opened one at a time. */
export function LaneMarkups({ lane, item }: { lane: Lane; item: Item }) {
  const [open, setOpen] = useState<{ targetId: string; kind: 'record' | 'drawing' } | null>(null);
  const targets = targetsOf(lane, item);
  const current = targets.find(s => s.id === open?.targetId);
  const button = (stimulus: Stimulus, kind: 'record' | 'drawing', words: string) => (
    <Button
      key={`${stimulus.id} ${kind}`}
      look="quiet"
      aria-expanded={open?.targetId === stimulus.id && open.kind === kind}
      onClick={() => setOpen({ targetId: stimulus.id, kind })}
    >
      {words}
    </Button>
  );
  return (
    <section aria-label="Marks on what was read or seen">
      <div className="flex flex-wrap items-center gap-x-4">
        {targets.flatMap(s => {
          const what = s.id === lane.pictureId ? 'the student’s picture' : KIND_WORDS[s.kind]!;
          return [
            ...(s.kind === 'passage' ? [button(s, 'record', 'Mark the reading')] : []),
            button(s, 'drawing', `Draw on ${what}`),
          ];
        })}
        {open && (
          <Button look="quiet" onClick={() => setOpen(null)}>
            <X aria-hidden className="size-5" /> Close
          </Button>
        )}
      </div>
      {current && open?.kind === 'record' && (
        <PassageRecord key={current.id} lane={lane} stimulus={current} />
      )}
      {current && open?.kind === 'drawing' && <Draw key={current.id} lane={lane} stimulus={current} />}
    </section>
  );
}
