import { useState, type ChangeEvent, type SyntheticEvent } from 'react';
import { check, type Shape } from '@ecoute/contract/validation';

type Typed = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement;

/**
 * The fields of a short form, and what the contract says of them before the server is asked.
 * @param shape the contract's class of what is sent
 * @param blank what the fields hold at first
 */
export function useFields<T extends object, B extends Record<string, string>>(shape: Shape<T>, blank: B) {
  const [values, setValues] = useState(blank);
  const [wrong, setWrong] = useState<Partial<Record<keyof B, string>>>({});
  const say = (name: keyof B, words: string) => setWrong({ ...wrong, [name]: words });
  return {
    values,
    /** What is wrong, by field; a field that is typed at is no longer called wrong. */
    wrong,
    say,
    reset: () => setValues(blank),
    field: (name: keyof B & string) => ({
      name,
      value: values[name],
      onChange: (event: ChangeEvent<Typed>) => {
        setValues({ ...values, [name]: event.target.value });
        setWrong({ ...wrong, [name]: undefined });
      },
    }),
    /** A form's `onSubmit`: goes on with what stands by the contract, or says what does not. */
    submit: (then: (value: T) => void) => (event: SyntheticEvent) => {
      event.preventDefault();
      const { value, fields } = check(shape, values);
      setWrong((fields ?? {}) as typeof wrong);
      if (value) then(value);
    },
  };
}
