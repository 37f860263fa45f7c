import { useId, type ReactNode } from 'react';

/** A labelled control. The render function gets what ties control, hint and error together. */
export function Field({
  label,
  hint,
  error,
  children,
  className = '',
}: {
  label: ReactNode;
  hint?: ReactNode;
  error?: string | null;
  className?: string;
  children: (ties: { id: string; 'aria-describedby'?: string; 'aria-invalid'?: true }) => ReactNode;
}) {
  const id = useId();
  const told = error ?? hint;
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-sm font-semibold">
        {label}
      </label>
      {children({
        id,
        'aria-describedby': told ? `${id}-told` : undefined,
        'aria-invalid': error ? true : undefined,
      })}
      {told && (
        <p
          id={`${id}-told`}
          role={error ? 'alert' : undefined}
          className={`mt-1 text-sm ${error ? 'font-semibold' : 'text-soft'}`}
        >
          {error ? `▲ ${error}` : hint}
        </p>
      )}
    </div>
  );
}

export const inputClass =
  'w-full min-h-11 border-2 border-edge bg-sheet px-3 py-2 rounded-[3px] aria-invalid:border-ink aria-invalid:border-dashed placeholder:text-soft';
