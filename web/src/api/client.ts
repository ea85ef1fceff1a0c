import createClient from 'openapi-fetch';
import type { paths } from './schema';
import type { ProblemDocument } from './types';

/** Name of this page for the service, which is fair among those that compute at once. */
export const clientHeader = { 'x-joulethesis-client': crypto.randomUUID() };

export const api = createClient<paths>({ baseUrl: '', headers: clientHeader });

/** The service refused: it says which field, what was given and what is accepted. */
export class Refusal extends Error {
  constructor(readonly problem: ProblemDocument) {
    super(problem.detail);
  }
}

/** The service could not be reached at all, or its database is away; what was asked may be asked again. */
export class Unreachable extends Error {
  /** `title` is what the service itself calls it; none where it did not answer. */
  constructor(
    message: string,
    readonly title?: string,
  ) {
    super(message);
  }
}

/** Result of a call, or a typed error. A body that is no problem document comes from something in between. */
export function unwrap<T>(result: { data?: T; error?: unknown; response: Response }): T {
  if (result.response.ok) return result.data as T;
  const problem = result.error as Partial<ProblemDocument> | undefined;
  if (result.response.status >= 502 || typeof problem?.detail !== 'string') {
    throw new Unreachable(
      problem?.detail ?? `The service answered with status ${String(result.response.status)}.`,
      problem?.title,
    );
  }
  throw new Refusal({ problems: [], ...problem } as ProblemDocument);
}

/** The fields that a refusal names; none of anything else. */
export const refusals = (error: unknown) => (error instanceof Refusal ? error.problem.problems : []);

/** What a refusal of a file says, a line each: the places it names, as the file has them, else its sentence. */
export function refusalLines(error: unknown): string[] {
  const problems = refusals(error);
  return problems.length > 0 ? problems.map((p) => p.message) : [error instanceof Error ? error.message : 'refused'];
}

/** Runs a call and turns a failed connection into `Unreachable`. */
export async function reach<T>(call: () => Promise<T>): Promise<T> {
  try {
    return await call();
  } catch (error) {
    if (error instanceof TypeError) throw new Unreachable('The service does not answer.');
    throw error;
  }
}

/** A text of a call sent as what it is: the words of a file, not JSON. */
export const asText = (body: string, type = 'text/csv') => ({
  body,
  bodySerializer: (text: string) => text,
  headers: { 'Content-Type': type },
});
