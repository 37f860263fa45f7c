import { t } from '../base/i18n';
import { Field, inputClass } from './Field';

/** A password that is being chosen. */
export function NewPasswordField({
  label,
  value,
  error,
  onChange,
}: {
  label: string;
  value: string;
  error: string | null;
  onChange: (password: string) => void;
}) {
  return (
    <Field label={label} hint={t('At least 12 characters. Nobody else needs to know it.')} error={error}>
      {ties => (
        <input
          {...ties}
          type="password"
          autoComplete="new-password"
          value={value}
          onChange={e => onChange(e.target.value)}
          className={inputClass}
        />
      )}
    </Field>
  );
}
