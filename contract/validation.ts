import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';

export type Shape<T extends object> = new () => T;

/** Nothing that Ecoute keeps is nested deeper. */
const DEEPEST = 60;
/** Names by which a reader of objects would be led astray. */
const NO_NAMES = new Set(['__proto__', 'constructor', 'prototype']);

/**
 * What no reader or database takes, wherever it stands: half a letter (a lone surrogate), names that mean something
 * to the language, and nests without end.
 * @returns a path and what is wrong there, or null
 */
function unreadable(data: unknown): { path: string; message: string } | null {
  const stack: { value: unknown; path: string; depth: number }[] = [{ value: data, path: '', depth: 0 }];
  while (stack.length > 0) {
    const { value, path, depth } = stack.pop()!;
    if (typeof value === 'string' && isBroken(value))
      return { path, message: 'This text holds a letter that is cut in half. Type it again.' };
    if (value === null || typeof value !== 'object') continue;
    if (depth >= DEEPEST) return { path: '', message: 'This is nested too deep to be read.' };
    for (const [name, inner] of Object.entries(value)) {
      if (NO_NAMES.has(name)) return { path, message: 'This holds a name that cannot be kept.' };
      stack.push({ value: inner, path: path ? `${path}.${name}` : name, depth: depth + 1 });
    }
  }
  return null;
}

/** True for text with half of a surrogate pair. */
function isBroken(text: string): boolean {
  return /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/.test(text);
}

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
  const odd = unreadable(data);
  if (odd) return { value: null, fields: { [odd.path]: odd.message } };
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
