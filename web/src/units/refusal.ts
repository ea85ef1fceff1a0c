import { refusals } from '../api/client';
import type { ProblemDocument } from '../api/types';
import { nameOf } from './units';

/**
 * A refusal of what was typed: the field by its name, since its place in the document means nothing to a person, and the row of a list it
 * stands in.
 */
export function refusalOf({ path, message }: ProblemDocument['problems'][number]): string {
  if (path === '' || !message.startsWith(path)) return message;
  const row = /.*\[(\d+)\]/.exec(path)?.[1];
  return (row === undefined ? '' : `Row ${String(Number(row) + 1)}: `) + nameOf(path) + message.slice(path.length);
}

/** What a call that failed says of what was typed, a line each. Of files, whose own names count, `refusalLines` tells. */
export function typedLines(error: Error | null): string[] {
  const problems = refusals(error);
  return problems.length > 0 ? problems.map(refusalOf) : error ? [error.message] : [];
}
