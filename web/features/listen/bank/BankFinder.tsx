import { Link2, Mic } from 'lucide-react';
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { findComments } from '@ecoute/core/feedback/comments';
import type { BankComment } from '@ecoute/contract/commentBank';
import { inputClass } from '../../../parts/Field';
import { useBankQuery } from './endpoints';

/** What is put in: a comment of the bank, or one's own words. */
export type Found = { comment: BankComment } | { words: string };

/**
 * The comment bank on the lane: type to find, Enter puts it behind the comment, Shift Enter pins it to the moment that is
 * heard. What nothing in the bank says can be put in as it was typed.
 */
export function BankFinder({
  onPut,
  onClose,
}: {
  onPut: (found: Found, asNote: boolean) => void;
  onClose: () => void;
}) {
  const id = useId();
  const { data: topics = [], isLoading } = useBankQuery();
  /** Enter was pressed before the bank was here: it holds for what is found then. */
  const [pressed, setPressed] = useState<{ asNote: boolean } | null>(null);
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const all = topics
    .filter(t => !t.praise)
    .flatMap(t => t.comments.map(c => ({ ...c, topic: t.name, of: t.departmentName })));
  const found = findComments(all, typed);
  const own = typed.trim();
  const options: Found[] = [...found.map(comment => ({ comment })), ...(own ? [{ words: own }] : [])];
  const chosen = Math.min(at, options.length - 1);
  const put = (index: number, asNote: boolean) => {
    const option = options[index];
    if (option) onPut(option, asNote);
  };
  useEffect(() => {
    if (isLoading || !pressed) return;
    setPressed(null);
    put(chosen, pressed.asNote);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the bank is here
  }, [isLoading, pressed]);
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const by = event.key === 'ArrowDown' ? 1 : -1;
      setAt((chosen + by + options.length) % Math.max(1, options.length));
    } else if (event.key === 'Enter' && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      event.stopPropagation();
      if (isLoading) setPressed({ asNote: event.shiftKey });
      else put(chosen, event.shiftKey);
    } else if (event.key === 'Escape') {
      event.preventDefault();
      event.stopPropagation();
      onClose();
    }
  };
  return (
    <div className="border-2 border-ink bg-sheet" onKeyDown={onKey}>
      <input
        ref={field}
        role="combobox"
        aria-expanded
        aria-controls={`${id}-list`}
        aria-activedescendant={options.length > 0 ? `${id}-${chosen}` : undefined}
        aria-label="Find a comment"
        dir="auto"
        placeholder="Type to find a comment"
        value={typed}
        onChange={e => {
          setTyped(e.target.value);
          setAt(0);
        }}
        className={`${inputClass} !border-0 !border-b-2`}
      />
      <ul id={`${id}-list`} role="listbox" aria-label="Comments" className="max-h-72 overflow-y-auto">
        {options.map((option, i) => (
          <li
            key={'comment' in option ? option.comment.id : 'own'}
            id={`${id}-${i}`}
            role="option"
            aria-selected={i === chosen}
            onMouseDown={event => {
              event.preventDefault();
              put(i, event.shiftKey);
            }}
            className="flex cursor-pointer items-start gap-3 px-3 py-2 aria-selected:bg-saffron-wash"
          >
            {'comment' in option ? (
              <>
                <span dir="auto" className="min-w-0 flex-1">
                  {option.comment.words}
                </span>
                {option.comment.link && <Link2 aria-label="with a link" className="mt-1 size-4 shrink-0" />}
                {option.comment.voiceId && <Mic aria-label="with a clip" className="mt-1 size-4 shrink-0" />}
                <span className="shrink-0 text-sm text-soft">
                  {(option.comment as (typeof found)[number]).topic}
                  {option.comment.used > 0 && ` · ${option.comment.used}×`}
                </span>
              </>
            ) : (
              <span>
                in your own words: <strong dir="auto">{option.words}</strong>
              </span>
            )}
          </li>
        ))}
      </ul>
      <p className="flex flex-wrap gap-x-4 border-t border-line px-3 py-1.5 text-sm text-soft">
        {isLoading
          ? 'Fetching your bank …'
          : all.length === 0
            ? 'There is nothing in your bank yet.'
            : 'Enter: behind the comment. Shift Enter: at this moment.'}
        <Link to="/listen/comments" className="ms-auto underline underline-offset-4">
          The comment bank
        </Link>
      </p>
    </div>
  );
}
