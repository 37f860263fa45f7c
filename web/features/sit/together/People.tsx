import { useState } from 'react';
import type { Companion } from '@ecoute/contract/together';
import { t } from '../../../base/i18n';
import { inputClass } from '../../../parts/Field';
import { Tick } from '../../../parts/Tick';

/** With more than these a name is found by its letters. */
const LONG = 12;

/** Who is to be heard with one, ticked among those whom the release is for. In the order in which they were ticked. */
export function People({
  label,
  companions,
  chosen,
  most,
  onChange,
}: {
  label: string;
  companions: readonly Companion[];
  chosen: readonly string[];
  /** Besides oneself. */
  most: number;
  onChange: (chosen: string[]) => void;
}) {
  const [letters, setLetters] = useState('');
  const found = companions.filter(
    c => chosen.includes(c.id) || c.displayName.toLocaleLowerCase().includes(letters.toLocaleLowerCase()),
  );
  return (
    <fieldset className="grid grid-cols-1 gap-1">
      <legend className="mb-1 font-semibold">{label}</legend>
      {companions.length > LONG && (
        <input
          type="search"
          aria-label={t('Find a name')}
          placeholder={t('Find a name')}
          value={letters}
          onChange={e => setLetters(e.target.value)}
          className={inputClass}
        />
      )}
      <div className="grid max-h-56 gap-x-6 overflow-y-auto border-y border-line py-1 sm:grid-cols-2">
        {found.map(c => {
          const place = chosen.indexOf(c.id);
          if (c.handedIn && place < 0)
            return (
              <p key={c.id} className="flex min-h-9 items-center ps-8 text-soft">
                {t('{{name}}: handed in already', { name: c.displayName })}
              </p>
            );
          return (
            <Tick
              key={c.id}
              checked={place >= 0}
              onChange={on => {
                if (!on) onChange(chosen.filter(id => id !== c.id));
                else if (chosen.length < most) onChange([...chosen, c.id]);
              }}
            >
              <span dir="auto" className={place < 0 && chosen.length >= most ? 'text-soft' : ''}>
                {c.displayName}
              </span>
            </Tick>
          );
        })}
      </div>
      <p className="text-sm text-soft">
        {chosen.length >= most
          ? t('More than {{n}} cannot be heard together here.', { n: most + 1 })
          : t('Up to {{n}} besides you.', { n: most })}
      </p>
    </fieldset>
  );
}
