import type { ParseArgsConfig } from 'node:util';

/** Wrong usage: exit code 2. */
export class UsageError extends Error {}

export type Values = Record<string, string | boolean | (string | boolean)[] | undefined>;

export interface Result {
  /** What --json prints. */
  json: object;
  /** What a person reads. */
  text: string;
  /** 1 when the input is at fault. */
  code?: 0 | 1;
}

/** One verb of the command line. */
export interface Verb {
  name: string;
  /** Arguments as usage shows them. */
  usage: string;
  what: string;
  options?: ParseArgsConfig['options'];
  /** How many arguments it takes, and whether there may be more. */
  args: number;
  more?: true;
  run(args: string[], values: Values): Promise<Result>;
}

/** All values of an option that may come several times. */
export const allOf = (values: Values, name: string): string[] => {
  const value = values[name];
  return Array.isArray(value)
    ? value.filter((one) => typeof one === 'string')
    : typeof value === 'string'
      ? [value]
      : [];
};

/** A value out of a list. @throws UsageError */
export function oneOf<T extends string>(values: Values, name: string, allowed: readonly T[], otherwise: T): T {
  const value = values[name] ?? otherwise;
  if (!allowed.includes(value as T))
    throw new UsageError(`--${name} ${String(value)}: it can be ${allowed.join(', ')}.`);
  return value as T;
}

/** A whole number in a range. @throws UsageError */
export function wholeOf(values: Values, name: string, low: number, high: number): number | undefined {
  if (values[name] === undefined) return undefined;
  const value = Number(values[name]);
  if (!Number.isInteger(value) || value < low || value > high)
    throw new UsageError(`--${name} ${String(values[name])}: a whole number from ${low} to ${high} is wanted.`);
  return value;
}
