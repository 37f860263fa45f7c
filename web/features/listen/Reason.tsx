import type { Ref } from 'react';
import { LIMITS } from '@ecoute/contract/limits';
import { Field, inputClass } from '../../parts/Field';

/** What is often the reason; one click, and it can still be changed. */
const USUAL = ['Heard again', 'A slip of mine', 'Agreed with a colleague'];

/** Why a score is another than before, or than the rubric gives. */
export function Reason({
  label,
  value,
  onChange,
  error,
  field,
  isAgain = false,
  finishes = true,
}: {
  label: string;
  value: string;
  onChange: (reason: string) => void;
  error: string | null;
  field?: Ref<HTMLInputElement>;
  /** Its student has recorded it again. */
  isAgain?: boolean;
  /** Enter in it finishes the answer; else it belongs to the form around it. */
  finishes?: boolean;
}) {
  return (
    <Field label={label} error={error} className="min-w-64 flex-1">
      {ties => (
        <div className="flex flex-wrap items-center gap-2">
          <input
            {...ties}
            ref={field}
            dir="auto"
            {...(finishes && { 'data-finishes': true })}
            maxLength={LIMITS.reason}
            value={value}
            onChange={e => onChange(e.target.value)}
            className={`${inputClass} !w-auto min-w-56 flex-1`}
          />
          {[...(isAgain ? ['Recorded again'] : []), ...USUAL].map(words => (
            <button
              key={words}
              type="button"
              onClick={() => onChange(words)}
              className="min-h-10 px-1 text-sm underline underline-offset-4"
            >
              {words}
            </button>
          ))}
        </div>
      )}
    </Field>
  );
}
