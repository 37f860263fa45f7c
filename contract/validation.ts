import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';

export type Shape<T extends object> = new () => T;

/**
 * Checks data against a contract class; the form and the server call the same function.
 * @returns the value with unknown properties removed, or messages by field path (`items.0.points`).
 */
export function check<T extends object>(
  shape: Shape<T>,
  data: unknown,
): { value: T; fields: null } | { value: null; fields: Record<string, string> } {
  if (data === null || typeof data !== 'object' || Array.isArray(data))
    return { value: null, fields: { '': 'Something is missing here.' } };
  const value = plainToInstance(shape, data);
  const errors = validateSync(value, { whitelist: true, forbidUnknownValues: true });
  if (errors.length === 0) return { value, fields: null };
  const fields: Record<string, string> = {};
  collect(errors, '', fields);
  return { value: null, fields };
}

function collect(errors: ValidationError[], path: string, into: Record<string, string>): void {
  for (const error of errors) {
    const here = path ? `${path}.${error.property}` : error.property;
    const first = Object.values(error.constraints ?? {})[0];
    if (first) into[here] = first;
    if (error.children?.length) collect(error.children, here, into);
  }
}
