import createClient, { type Middleware } from 'openapi-fetch';
import type { Readable } from 'openapi-typescript-helpers';
import type { components, paths } from './api.gen';
import { askToSignOn } from './askToSignOn';
import { BASE } from './place';

/** The wire's types as the client reads them. */
export type Schema = { [K in keyof components['schemas']]: Readable<components['schemas'][K]> };
export type Bench = Schema['BenchAnswer'];
export type Cut = Schema['CutAnswer'];
export type CutRequest = Schema['CutRequest'];
export type Trial = Schema['TrialAnswer'];
export type TrialLine = Schema['TrialLineAnswer'];
export type Table = Schema['TableAnswer'];
export type TorchSet = Schema['TorchSetAnswer'];
export type Recipe = Schema['RecipeAnswer'];
export type RecipeLine = Schema['RecipeLine'];
export type BookRow = Schema['BookRowAnswer'];
export type Problem = Schema['Problem'];

/** Who stands at this screen is said with every request: whatever it changes carries the name. */
const signed: Middleware = {
  onRequest({ request }) {
    const person = localStorage.getItem('person');
    if (person) request.headers.set('orthotome-person', encodeURIComponent(person));
    return request;
  },
};

/** Of the place where this screen stands: the shop, or the practice shop. */
export const api = createClient<paths>({ baseUrl: `${BASE}/` });

/** Of the shop, wherever this screen stands: who is signed on, and what was practised. */
export const ofShop = createClient<paths>({ baseUrl: '/' });

api.use(signed);
ofShop.use(signed);

/** What the server refused, in its own sentence, with the fields that were wrong. */
export class Refusal extends Error {
  readonly status: number;
  readonly fields: readonly { field: string; message: string }[];
  /** The field whose number is asked about, where that is all: sent again with it insisted on, it is kept. */
  readonly doubted: string | null;

  constructor(problem: Partial<Problem> | undefined, status: number) {
    super(problem?.detail ?? 'The server did not answer: is Orthotome still running?');
    this.status = status;
    this.fields = (problem?.errors ?? []).map((e) => ({
      field: e['field'] ?? '',
      message: e['message'] ?? '',
    }));
    this.doubted = problem?.type === 'urn:orthotome:doubted' ? (this.fields[0]?.field ?? null) : null;
  }
}

/** A device that was put out sees the pairing page; one where nobody is signed on is asked for a name. */
function notLetIn(problem: Partial<Problem> | undefined): void {
  const field = problem?.errors?.[0]?.['field'];
  if (field === 'device') window.location.assign('/pair');
  else askToSignOn();
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The answer's data, or the refusal thrown. A server that is gone refuses too. */
export async function answered<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch {
    throw new Refusal(undefined, 0);
  }
  if (answer.response.status === 401) notLetIn(answer.error as Partial<Problem> | undefined);
  if (answer.error !== undefined || !answer.response.ok) {
    throw new Refusal(answer.error as Partial<Problem> | undefined, answer.response.status);
  }
  return answer.data as T;
}
