import type { AssessmentContent, RecorderWords } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { useState } from 'react';
import { isLanguage } from '@ecoute/core/formats/languages';
import { isScreenLanguage, SCREEN_LANGUAGES } from '../../../base/i18n';
import { Field, inputClass } from '../../../parts/Field';
import { languageName, LanguageSelect } from '../../../parts/LanguageSelect';
import { OwnSentences } from './OwnSentences';

const LABELS: Record<keyof RecorderWords, string> = {
  hearPrompt: 'Hear the prompt',
  prepare: 'Prepare',
  answer: 'Answer now',
  recording: 'Recording',
  stop: 'I have finished: stop',
  pause: 'Pause',
  goOn: 'Go on recording',
  again: 'Record again',
  handIn: 'Hand in',
};
const NO_WORDS = Object.fromEntries(Object.keys(LABELS).map(k => [k, ''])) as unknown as RecorderWords;
const OTHER = 'other';

/** A language that is not in the list, by its tag. */
function TagField({ value, onChange }: { value: string; onChange: (tag: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const isWrong = typed !== null && typed !== '' && !isLanguage(typed);
  return (
    <Field
      label="Another, by its tag"
      hint={value && !typed ? languageName(value) : 'Two or three letters, as in BCP 47: lb, ceb, nah.'}
      error={isWrong ? 'A tag is such as lb, ceb or sr-Latn.' : null}
    >
      {ties => (
        <input
          {...ties}
          value={typed ?? value}
          maxLength={35}
          autoCapitalize="none"
          spellCheck={false}
          className={`${inputClass} max-w-40`}
          onChange={e => {
            setTyped(e.target.value);
            if (isLanguage(e.target.value)) onChange(e.target.value);
          }}
          onBlur={() => !isWrong && setTyped(null)}
        />
      )}
    </Field>
  );
}

/** In which language students sit; for one that has no dictionary here, the recorder in the teacher's words. */
export function ScreenLanguageChoice({
  content,
  onChange,
}: {
  content: Pick<AssessmentContent, 'screenLanguage' | 'recorderWords' | 'screenWords'>;
  onChange: (change: Partial<AssessmentContent>) => void;
}) {
  const { screenLanguage, recorderWords } = content;
  const other = recorderWords !== null || (screenLanguage !== '' && !isScreenLanguage(screenLanguage));
  const words = recorderWords ?? NO_WORDS;
  return (
    <div className="grid grid-cols-1 gap-3">
      <Field label="Students’ screens are in">
        {ties => (
          <select
            {...ties}
            className={inputClass}
            value={other ? OTHER : screenLanguage}
            onChange={e =>
              onChange(
                e.target.value === OTHER
                  ? { recorderWords: { ...NO_WORDS } }
                  : { screenLanguage: e.target.value, recorderWords: null },
              )
            }
          >
            <option value="">the language each of them has chosen</option>
            {Object.entries(SCREEN_LANGUAGES).map(([tag, name]) => (
              <option key={tag} value={tag} lang={tag}>
                {name}
              </option>
            ))}
            <option value={OTHER}>another: word the recorder yourself</option>
          </select>
        )}
      </Field>
      {other && (
        <>
          <Field label="Which language">
            {ties => (
              <LanguageSelect
                {...ties}
                value={isScreenLanguage(screenLanguage) ? '' : screenLanguage}
                none="choose one"
                onChange={tag => onChange({ screenLanguage: tag, recorderWords: words })}
              />
            )}
          </Field>
          <TagField
            value={isScreenLanguage(screenLanguage) ? '' : screenLanguage}
            onChange={tag => onChange({ screenLanguage: tag, recorderWords: words })}
          />
          <div className="grid gap-2 sm:grid-cols-2 lg:grid-cols-1 xl:grid-cols-2">
            {(Object.keys(LABELS) as (keyof RecorderWords)[]).map(name => (
              <Field key={name} label={`“${LABELS[name]}”`}>
                {ties => (
                  <input
                    {...ties}
                    value={words[name]}
                    maxLength={LIMITS.label}
                    lang={screenLanguage || undefined}
                    placeholder={LABELS[name]}
                    onChange={e => onChange({ recorderWords: { ...words, [name]: e.target.value } })}
                    className={inputClass}
                  />
                )}
              </Field>
            ))}
          </div>
          <OwnSentences
            language={screenLanguage}
            words={content.screenWords ?? []}
            onChange={screenWords => onChange({ screenWords })}
          />
          <p className="text-sm text-soft">What is left empty stays English.</p>
        </>
      )}
    </div>
  );
}
