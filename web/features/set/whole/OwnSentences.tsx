import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { ScreenWord } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { allSentences } from '../../../base/i18n';
import { Field, inputClass } from '../../../parts/Field';
import { plain } from '../items/itemSearch';

/** What a student meets in every sitting, in the order in which they meet it. */
const FIRST = [
  'Check the microphone and begin',
  'Begin',
  'Directions',
  'Item {{number}} of {{total}}',
  'I have read it: prepare {{time}}',
  'Prepare. Then it is your turn:',
  'I am ready: answer now',
  'It is your turn.',
  'Listen …',
  'Your turn: speak',
  'Paused',
  'Recorded.',
  'on its way',
  'stored safely',
  'Hear the prompt again',
  'Open the hint',
  'I pass on this one',
  'Item {{number}}',
  'To the hand-in',
  'Handed in. Everything is with your teacher.',
];
/** So many of the others are shown; a word narrows them. */
const SHOWN = 30;

/** Sentences of the student's screens in the teacher's own words: those met always, then any other that is looked for. */
export function OwnSentences({
  language,
  words,
  onChange,
}: {
  language: string;
  words: readonly ScreenWord[];
  onChange: (words: ScreenWord[]) => void;
}) {
  const [all, setAll] = useState<readonly string[] | null>(null);
  const [open, setOpen] = useState(false);
  const [find, setFind] = useState('');
  useEffect(() => {
    if (!open || all) return;
    let current = true;
    void allSentences().then(
      sentences => current && setAll(sentences),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [open, all]);
  const own = new Map(words.map(w => [w.english, w.own]));
  const known = new Set(all ?? []);
  const first = FIRST.filter(sentence => known.has(sentence));
  const others = (all ?? []).filter(
    sentence =>
      !first.includes(sentence) &&
      (find.trim() ? plain(sentence).includes(plain(find.trim())) : own.has(sentence)),
  );
  const put = (english: string, said: string) =>
    onChange([...words.filter(w => w.english !== english), ...(said ? [{ english, own: said }] : [])]);
  const field = (sentence: string) => {
    const places = sentence.match(/\{\{\w+\}\}/g) ?? [];
    const said = own.get(sentence) ?? '';
    const missing = said ? places.filter(place => !said.includes(place)) : [];
    return (
      <Field
        key={sentence}
        label={`“${sentence}”`}
        error={missing.length > 0 ? `${missing.join(' and ')} is missing: it is filled in there.` : null}
      >
        {ties => (
          <input
            {...ties}
            dir="auto"
            lang={language || undefined}
            maxLength={LIMITS.sentence}
            value={said}
            placeholder={sentence}
            onChange={e => put(sentence, e.target.value)}
            className={inputClass}
          />
        )}
      </Field>
    );
  };
  return (
    <Collapsible.Root open={open} onOpenChange={setOpen}>
      <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Everything else that students read
        <span className="font-normal text-soft">
          {own.size === 0 ? 'in English' : `${own.size} in your words`}
        </span>
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-3 pt-2">
        {!all && <p role="status">Fetching the sentences …</p>}
        <div className="grid gap-2">{first.map(field)}</div>
        {all && (
          <Field label="Find another sentence" hint={`${all.length} in all. Type a word of it.`}>
            {ties => (
              <input
                {...ties}
                type="search"
                value={find}
                onChange={e => setFind(e.target.value)}
                className={inputClass}
              />
            )}
          </Field>
        )}
        <div className="grid gap-2">{others.slice(0, SHOWN).map(field)}</div>
        {others.length > SHOWN && (
          <p className="text-sm text-soft">{others.length - SHOWN} more; another word shows fewer.</p>
        )}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
