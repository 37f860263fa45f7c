import { LANGUAGES } from '@ecoute/core/formats/languages';
import { inputClass } from './Field';

const names = new Intl.DisplayNames(['en'], { type: 'language' });

/** A language's name in the interface's language. */
export function languageName(tag: string): string {
  return names.of(tag) ?? tag;
}

const CHOICES = LANGUAGES.map(tag => ({ tag, name: languageName(tag) })).sort((a, b) =>
  a.name.localeCompare(b.name),
);

/** Chooses a language; one that came from elsewhere and is not in the list stays chosen. */
export function LanguageSelect({
  value,
  none,
  onChange,
  className = inputClass,
  ...ties
}: {
  value: string;
  /** What no language is called. */
  none: string;
  onChange: (tag: string) => void;
  className?: string;
  id?: string;
  'aria-label'?: string;
}) {
  const listed = value === '' || CHOICES.some(c => c.tag === value);
  return (
    <select {...ties} value={value} onChange={e => onChange(e.target.value)} className={className}>
      <option value="">{none}</option>
      {!listed && <option value={value}>{languageName(value)}</option>}
      {CHOICES.map(({ tag, name }) => (
        <option key={tag} value={tag}>
          {name}
        </option>
      ))}
    </select>
  );
}
