import { Copy, MoreVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { Link } from 'react-router';
import type { AssessmentSummary } from '@ecoute/contract/assessments';
import { stripOf } from '@ecoute/core/timing/strip';
import { inWords } from '@ecoute/core/timing/words';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { heardOf } from '../items/itemSearch';
import { SmallStrip } from '../../../parts/strip/Strip';

export interface ShelfAction {
  name: string;
  onChoose: () => void;
}

const MENU_ITEM =
  'flex min-h-11 w-full cursor-pointer items-center px-4 text-start outline-none data-[highlighted]:bg-sunk';

/** One assessment on a shelf: its strip in small, what it is opened by, copied, and what else can be done with it. */
export function ShelfRow({
  assessment,
  under,
  to,
  copyName,
  busy,
  onCopy,
  actions = [],
}: {
  assessment: AssessmentSummary;
  /** What is said beneath the title. */
  under: string;
  /** Where the row leads; null where the assessment can be copied but not opened. */
  to: string | null;
  copyName: string;
  busy: boolean;
  onCopy: () => void;
  actions?: readonly ShelfAction[];
}) {
  const { content } = assessment;
  const title = content.title.trim() || 'Without a title';
  const heard = content.items.map(heardOf).find(h => h !== null);
  const inside = (
    <>
      <span className="min-w-0">
        <span className="block text-lg font-semibold">{title}</span>
        <span className="text-sm text-soft">{under}</span>
      </span>
      <SmallStrip items={content.items} />
      <span className="text-sm sm:text-end">
        {content.items.length} {content.items.length === 1 ? 'item' : 'items'},{' '}
        {inWords(stripOf(content.items).lengthMs)}
      </span>
    </>
  );
  const look =
    'grid min-w-0 flex-1 items-center gap-x-6 gap-y-2 px-5 py-4 sm:grid-cols-[minmax(0,1.2fr)_minmax(8rem,1fr)_12rem]';
  return (
    <li className="flex items-stretch bg-sheet">
      {to ? (
        <Link to={to} className={`${look} hover:bg-sunk`}>
          {inside}
        </Link>
      ) : (
        <div className={look}>{inside}</div>
      )}
      {heard && (
        <span className="grid shrink-0 place-items-center border-s border-line px-2">
          <PlayButton
            track={trackOf(heard.id, title, 'teacher', heard.durationMs)}
            label={`the first spoken prompt of ${title}`}
          />
        </span>
      )}
      <button
        type="button"
        aria-label={`${copyName} ${content.title.trim() || 'the unnamed draft'}`}
        title={copyName}
        disabled={busy}
        onClick={onCopy}
        className="grid w-14 shrink-0 place-items-center border-s border-line hover:bg-sunk"
      >
        <Copy aria-hidden className="size-5" />
      </button>
      {actions.length > 0 && (
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger
            aria-label={`More for ${title}`}
            className="grid w-12 shrink-0 place-items-center border-s border-line hover:bg-sunk"
          >
            <MoreVertical aria-hidden className="size-5" />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="end" className="z-50 min-w-56 border-2 border-ink bg-sheet">
              {actions.map(action => (
                <DropdownMenu.Item key={action.name} onSelect={action.onChoose} className={MENU_ITEM}>
                  {action.name}
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
    </li>
  );
}
