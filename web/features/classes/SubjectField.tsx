import type { ComponentProps } from 'react';
import { Field, inputClass } from '../../parts/Field';

/** What a class learns: it decides how its recordings are made. */
export function SubjectField(select: Omit<ComponentProps<'select'>, 'id' | 'className'>) {
  return (
    <Field label="Subject" hint="For music, recordings are kept free of the browser’s speech processing.">
      {ties => (
        <select {...ties} {...select} className={inputClass}>
          <option value="language">Language</option>
          <option value="music">Music</option>
        </select>
      )}
    </Field>
  );
}
