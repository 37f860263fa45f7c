/** What contracts ask of single fields beyond class-validator's own checks. */
import 'reflect-metadata';
import { Transform, Type } from 'class-transformer';
import {
  IsString,
  IsUUID,
  MaxLength,
  MinLength,
  ValidateBy,
  ValidateNested,
  type ValidationOptions,
} from 'class-validator';
import { LIMITS } from './limits';

type Shape = () => new () => object;

/** What a nested value must be once it was read: never an array where an object belongs, nor the other way round. */
function isOf(shape: Shape, options?: ValidationOptions): PropertyDecorator {
  return ValidateBy(
    {
      name: 'isOf',
      validator: {
        validate: value => value instanceof shape(),
        defaultMessage: () => 'Something here does not fit. Reload the page and try again.',
      },
    },
    options,
  );
}

/** One object of another contract class. */
export function Nested(shape: Shape): PropertyDecorator {
  return (target, key) => {
    Type(shape)(target, key);
    ValidateNested()(target, key);
    isOf(shape)(target, key);
  };
}

/** A list of objects of another contract class; a list inside the list is refused. */
export function ListOf(shape: Shape): PropertyDecorator {
  return (target, key) => {
    Type(shape)(target, key);
    ValidateNested({ each: true })(target, key);
    isOf(shape, { each: true })(target, key);
  };
}

const lower = (value: unknown): unknown => (typeof value === 'string' ? value.toLowerCase() : value);

/** An id. Letters are made small, so that one thing has one name in rows and files. */
export function IsId(options?: ValidationOptions): PropertyDecorator {
  return (target, key) => {
    Transform(({ value }) =>
      options?.each && Array.isArray(value) ? (value as unknown[]).map(lower) : lower(value),
    )(target, key);
    IsUUID('all', options)(target, key);
  };
}

const INSTANT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,9})?)?(Z|[+-]\d{2}:\d{2})$/;
const [EARLIEST, LATEST] = [Date.UTC(2000, 0), Date.UTC(2100, 0)];

/** True for an instant that every part of Ecoute reads alike: ISO 8601 with time and zone, from 2000 to 2099. */
export function isInstant(value: unknown): boolean {
  if (typeof value !== 'string' || !INSTANT.test(value) || !isDay(value.slice(0, 10))) return false;
  const at = Date.parse(value);
  return at >= EARLIEST && at < LATEST;
}

/** True for a day of the calendar, `YYYY-MM-DD`, from 2000 to 2099. */
export function isDay(value: unknown): boolean {
  if (typeof value !== 'string' || !/^20\d{2}-\d{2}-\d{2}$/.test(value)) return false;
  const at = Date.parse(`${value}T00:00:00Z`);
  return !Number.isNaN(at) && new Date(at).toISOString().startsWith(value);
}

/** The one check of instants: what it lets through can be read, kept and compared. */
export function IsInstant(message = 'This is no time that can be kept. Choose it again.'): PropertyDecorator {
  return ValidateBy({
    name: 'isInstant',
    validator: { validate: isInstant, defaultMessage: () => message },
  });
}

/** The one check of days. */
export function IsDay(message = 'There is no such day. Choose another.'): PropertyDecorator {
  return ValidateBy({ name: 'isDay', validator: { validate: isDay, defaultMessage: () => message } });
}

/** A password that somebody chooses; which ones are too common, the server knows. */
export function IsNewPassword(): PropertyDecorator {
  const { passwordLeast: least, password: most } = LIMITS;
  return (target, key) => {
    IsString()(target, key);
    MinLength(least, { message: `A password needs at least ${least} characters.` })(target, key);
    MaxLength(most, { message: `A password has at most ${most} characters.` })(target, key);
  };
}
