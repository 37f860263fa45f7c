import { X } from 'lucide-react';
import type { OtherDirections } from '@ecoute/contract/assessments';
import { directionOf } from '@ecoute/core/formats/languages';
import { LIMITS } from '@ecoute/contract/limits';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { languageName, LanguageSelect } from '../../../parts/LanguageSelect';
import { VoiceSlot } from '../items/VoiceSlot';

/** The directions in further languages, for students whose access arrangement asks for one of them. */
export function OtherDirectionsEditor({
  assessmentId,
  value,
  fields,
  onChange,
}: {
  assessmentId: string;
  value: readonly OtherDirections[];
  fields: Record<string, string>;
  onChange: (value: OtherDirections[]) => void;
}) {
  const change = (at: number, part: Partial<OtherDirections>) =>
    onChange(value.map((d, i) => (i === at ? { ...d, ...part } : d)));
  return (
    <div className="grid gap-3">
      <p>
        <span className="text-sm font-semibold">Directions in another language</span>
        <span className="block text-sm text-soft">
          For students whose access arrangement asks for it; nobody else sees them.
        </span>
      </p>
      {value.map((d, i) => (
        <div key={i} className="grid gap-2 border-s-4 border-saffron ps-3">
          <div className="flex items-center gap-2">
            <LanguageSelect
              aria-label={`Language of further directions ${i + 1}`}
              value={d.language}
              none="Choose a language …"
              onChange={language => change(i, { language })}
            />
            <button
              type="button"
              aria-label={`Remove further directions ${i + 1}`}
              onClick={() => onChange(value.filter((_, at) => at !== i))}
              className="grid size-10 shrink-0 place-items-center hover:bg-sunk"
            >
              <X aria-hidden className="size-5" />
            </button>
          </div>
          <Field
            label={<span className="sr-only">Further directions {i + 1}</span>}
            error={fields[`otherDirections.${i}.language`] ?? fields[`otherDirections.${i}.text`]}
          >
            {ties => (
              <textarea
                {...ties}
                rows={2}
                lang={d.language || undefined}
                dir={directionOf(d.language)}
                value={d.text}
                onChange={e => change(i, { text: e.target.value })}
                className={inputClass}
              />
            )}
          </Field>
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${assessmentId} directions ${i}`}
            what={`directions in ${d.language ? languageName(d.language) : 'this language'}`}
            title="Directions"
            voice={d.voice ?? null}
            onChange={voice => change(i, { voice })}
          />
        </div>
      ))}
      {value.length < LIMITS.otherDirections && (
        <div>
          <Button onClick={() => onChange([...value, { language: 'en', text: '' }])}>Add a language</Button>
        </div>
      )}
    </div>
  );
}
