import { Plus, X } from 'lucide-react';
import { useId, useState } from 'react';
import { sameTag, type Tag } from '@ecoute/contract/tags';
import { LIMITS } from '@ecoute/contract/limits';
import { Button } from '../../../parts/Button';
import { inputClass } from '../../../parts/Field';
import { plain, tagKey } from './itemSearch';
import { useTagListsQuery } from '../endpoints';
import { TagLists } from '../shelf/TagLists';

const SHOWN = 8;

/** Can-do statements or standards on an item or on the whole: found by typing, from imported lists or new. */
export function TagPicker({
  what,
  tags,
  onChange,
}: {
  /** What is tagged, in words: this item, the whole. */
  what: string;
  tags: readonly Tag[];
  onChange: (tags: Tag[]) => void;
}) {
  const id = useId();
  const [words, setWords] = useState('');
  const { data: lists = [] } = useTagListsQuery();
  const wanted = plain(words).split(/\s+/).filter(Boolean);
  // The same statement in two lists is one tag.
  const all = [...new Map(lists.flatMap(l => l.tags).map(t => [tagKey(t), t])).values()];
  const found =
    wanted.length === 0
      ? []
      : all
          .filter(t => wanted.every(w => plain(tagKey(t)).includes(w)) && !tags.some(o => sameTag(o, t)))
          .slice(0, SHOWN);
  const own = words.trim().slice(0, LIMITS.tagWords);
  const isNew = own !== '' && ![...all, ...tags].some(t => plain(tagKey(t)) === plain(own));
  const add = (tag: Tag) => {
    onChange([...tags, { code: tag.code, words: tag.words }]);
    setWords('');
  };
  return (
    <div className="grid grid-cols-1 gap-2">
      <label htmlFor={id} className="text-sm font-semibold">
        Tags of {what}
      </label>
      {tags.length > 0 && (
        <ul className="grid gap-1">
          {tags.map((tag, i) => (
            <li key={i} className="flex items-start gap-2 bg-sunk">
              <span className="flex-1 px-3 py-1.5">
                {tag.code && <strong className="tabular">{tag.code} </strong>}
                {tag.words}
              </span>
              <button
                type="button"
                aria-label={`Take off: ${tagKey(tag)}`}
                onClick={() => onChange(tags.filter((_, n) => n !== i))}
                className="grid size-9 shrink-0 place-items-center"
              >
                <X aria-hidden className="size-5" />
              </button>
            </li>
          ))}
        </ul>
      )}
      {tags.length < LIMITS.tags && (
        <input
          id={id}
          value={words}
          placeholder="Can-do statement or standard: type some of it"
          onChange={e => setWords(e.target.value)}
          onKeyDown={e => {
            if (e.key !== 'Enter') return;
            e.preventDefault();
            if (found[0]) add(found[0]);
            else if (isNew) add({ code: '', words: own });
          }}
          className={inputClass}
        />
      )}
      {(found.length > 0 || isNew) && (
        <ul aria-label="Found" className="grid gap-px bg-line">
          {found.map((tag, i) => (
            <li key={i}>
              <button
                type="button"
                onClick={() => add(tag)}
                className="block min-h-11 w-full bg-sheet px-3 py-1.5 text-start hover:bg-sunk"
              >
                {tag.code && <strong className="tabular">{tag.code} </strong>}
                {tag.words}
              </button>
            </li>
          ))}
          {isNew && (
            <li>
              <button
                type="button"
                onClick={() => add({ code: '', words: own })}
                className="flex min-h-11 w-full items-center gap-2 bg-sheet px-3 py-1.5 text-start hover:bg-sunk"
              >
                <Plus aria-hidden className="size-5 shrink-0" /> A tag of its own: “{own}”
              </button>
            </li>
          )}
        </ul>
      )}
      <div>
        <TagLists trigger={<Button look="quiet">Lists of statements …</Button>} />
      </div>
    </div>
  );
}
