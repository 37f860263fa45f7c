import { Columns2 } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import type { DrawerPart, DrawerState } from './useDrawer';

export interface Part {
  part: DrawerPart;
  words: string;
  /** How much there is, or a sign that there is something; left out where there is nothing to say. */
  sign?: ReactNode;
  /** There while another part is open: always, or from when it was opened first, as what somebody types in it. */
  isKept?: 'always' | 'onceOpen';
  content: ReactNode;
}

/** What belongs to a recording besides its sound and its score: one thing at a time, in a place of its own, never moving these. */
export function Drawer({
  label,
  parts,
  drawer,
  lane,
  isSeen,
  waitsForReply,
}: {
  label: string;
  parts: readonly Part[];
  drawer: DrawerState;
  /** Key of the lane in focus. */
  lane: string;
  /** There is something to be seen in this answer, and not only to be heard. */
  isSeen: boolean;
  /** Its student waits for a reply. */
  waitsForReply: boolean;
}) {
  const wanted = drawer.isFinding(lane) ? 'bank' : drawer.partFor(lane, isSeen, waitsForReply);
  const shown = parts.some(p => p.part === wanted) ? wanted : parts[0]!.part;
  /** What was opened on this lane. */
  const [opened, setOpened] = useState<{ lane: string; parts: DrawerPart[] }>({ lane, parts: [shown] });
  const before = opened.lane === lane ? opened.parts : [];
  if (!before.includes(shown)) setOpened({ lane, parts: [...before, shown] });
  return (
    <Tabs.Root
      value={shown}
      onValueChange={value => drawer.open(value as DrawerPart, lane, isSeen)}
      className="flex min-h-72 min-w-0 flex-col border-line max-lg:border-t lg:min-h-0 lg:border-s"
    >
      <div className="flex shrink-0 items-start border-b border-line bg-sunk">
        <Tabs.List aria-label={label} className="flex min-w-0 flex-1 flex-wrap">
          {parts.map(p => (
            <Tabs.Trigger
              key={p.part}
              value={p.part}
              className="min-h-10 border-b-3 border-transparent px-2 text-sm xl:px-2.5 data-[state=active]:border-ink data-[state=active]:bg-sheet data-[state=active]:font-semibold"
            >
              {p.words}
              {p.sign !== undefined && <span className="tabular"> {p.sign}</span>}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <button
          type="button"
          aria-pressed={drawer.isWide}
          aria-label="More room for this"
          title="More room for this"
          onClick={() => drawer.setWide(!drawer.isWide)}
          className="hidden size-10 place-items-center aria-pressed:bg-ink aria-pressed:text-sheet lg:grid"
        >
          <Columns2 aria-hidden className="size-5" />
        </button>
      </div>
      {parts.map(p => (
        <Tabs.Content
          key={p.part}
          value={p.part}
          forceMount={
            p.isKept === 'always' || (p.isKept === 'onceOpen' && before.includes(p.part)) || undefined
          }
          // Where there is nothing but text, arrows scroll it.
          tabIndex={p.part === 'task' ? 0 : -1}
          className="min-h-0 flex-1 overscroll-contain p-3 data-[state=inactive]:hidden lg:overflow-y-auto"
        >
          {p.content}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}
