/** The server, typed from its own description; a refusal is thrown as the sentence it came with. */
import createClient from 'openapi-fetch';
import type { Problem, paths } from './schema';

export class Refusal extends Error {
  readonly problem: Problem;
  readonly status: number;

  constructor(problem: Problem, status: number) {
    super(problem.sentence);
    this.problem = problem;
    this.status = status;
  }
}

export const UNREACHABLE =
  'Juxtakine does not answer. What you see is kept. This page goes on by itself as soon as it does.';

/** Whether nothing answered, or what answered waits for its database: both come back by themselves. */
export const isAway = (error: unknown) =>
  error instanceof Refusal && (error.status === 0 || error.status === 503);

export const server = createClient<paths>({ baseUrl: '' });

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The answer's value. Throws Refusal. */
export async function value<T>(asked: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await asked.catch(() => {
    throw new Refusal(problem(UNREACHABLE), 0);
  });
  if (!response.ok) {
    const said = error as Partial<Problem> | undefined;
    const sentence = said?.sentence ?? 'Something went wrong here. Nothing was lost; try once more.';
    throw new Refusal({ ...problem(sentence), ...said }, response.status);
  }
  return data as T;
}

function problem(sentence: string): Problem {
  return { sentence, phrase: 0, start: 0, end: 0 };
}
