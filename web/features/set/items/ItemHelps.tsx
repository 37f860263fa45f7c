import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import type { ReactNode } from 'react';
import type { Item, WordsBefore } from '@ecoute/contract/assessments';
import { Field, inputClass } from '../../../parts/Field';
import { LanguageSelect } from '../../../parts/LanguageSelect';
import { TagPicker } from './TagPicker';
import { VoiceSlot } from './VoiceSlot';

function Part({ title, under, children }: { title?: string; under?: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-1 gap-3">
      {title && (
        <p>
          <span className="text-sm font-semibold">{title}</span>
          {under && <span className="block text-sm text-soft">{under}</span>}
        </p>
      )}
      {children}
    </div>
  );
}

/** What helps with an item before and after the answer, and what it is about: folded until it is wanted. */
export function ItemHelps({
  assessmentId,
  item,
  problem,
  onChange,
}: {
  assessmentId: string;
  item: Item;
  problem: (name: string) => string | null;
  onChange: (change: Partial<Item>) => void;
}) {
  const before = item.wordsBefore ?? null;
  const say = (change: Partial<WordsBefore>) => {
    const next = { text: before?.text ?? '', voice: before?.voice ?? null, ...change };
    onChange({ wordsBefore: next.text === '' && !next.voice ? null : next });
  };
  const helps = [
    before && 'words on the way here',
    (item.hintText || item.hintVoice) && 'a hint',
    item.readAloudVoice && 'read aloud',
    (item.modelText || item.modelVoice) && 'a model answer',
    item.tags.length > 0 && (item.tags.length === 1 ? 'a tag' : `${item.tags.length} tags`),
  ].filter(Boolean);
  const words = (name: 'hintText' | 'modelText', label: string, hint: string) => (
    <Field label={label} hint={hint} error={problem(name)}>
      {ties => (
        <textarea
          {...ties}
          rows={2}
          value={item[name]}
          onChange={e => onChange({ [name]: e.target.value })}
          className={inputClass}
        />
      )}
    </Field>
  );
  return (
    <Collapsible.Root className="border-t border-line pt-1">
      <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Words on the way here, hint and model answer, reading aloud, tags
        <span className="font-normal text-soft">{helps.join(', ') || 'none'}</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-6 pt-2">
        <Part>
          <Field
            label="Words on the way here"
            hint="Encouragement, a change of subject: read or heard before this item. Nothing to answer, no number."
            error={problem('wordsBefore.text')}
          >
            {ties => (
              <textarea
                {...ties}
                rows={2}
                value={before?.text ?? ''}
                onChange={e => say({ text: e.target.value })}
                className={inputClass}
              />
            )}
          </Field>
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${item.id} before`}
            what="words on the way"
            title="On the way"
            voice={before?.voice ?? null}
            onChange={voice => say({ voice })}
          />
        </Part>
        <Part>
          {words('hintText', 'Hint', 'Opened by the student when they want it.')}
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${item.id} hint`}
            what="hint"
            title="Hint"
            voice={item.hintVoice}
            onChange={hintVoice => onChange({ hintVoice })}
          />
        </Part>
        <Part
          title="The prompt read aloud"
          under="For students whose access arrangement asks for it; nobody else hears it."
        >
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${item.id} aloud`}
            what="reading aloud"
            title="The prompt read aloud"
            voice={item.readAloudVoice}
            onChange={readAloudVoice => onChange({ readAloudVoice })}
          />
        </Part>
        <Part>
          {words(
            'modelText',
            'Model answer',
            'Nobody sees or hears it before it opens: after the hand-in or with the feedback, as set for the whole.',
          )}
          {item.modelText.trim() !== '' && (
            <Field
              label="Language of the model answer"
              hint="Named, its words are looked for in each answer: where somebody says the same, as in a prompt to repeat, each word can be heard by itself. An answer in other words is left as it is."
              error={problem('modelLanguage')}
            >
              {ties => (
                <LanguageSelect
                  {...ties}
                  value={item.modelLanguage ?? ''}
                  none="Not named: words are not looked for"
                  onChange={modelLanguage => onChange({ modelLanguage })}
                />
              )}
            </Field>
          )}
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${item.id} model`}
            what="model answer"
            title="Model answer"
            voice={item.modelVoice}
            onChange={modelVoice => onChange({ modelVoice })}
          />
        </Part>
        <TagPicker what="this item" tags={item.tags} onChange={tags => onChange({ tags })} />
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
