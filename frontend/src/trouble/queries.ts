import type { Schema } from '../kit/client';

export type Trouble = Schema['TroubleAnswer'];
export type Cause = Schema['CauseAnswer'];
export type Ask = Schema['AskAnswer'];
export type Said = Schema['SaidFact'];
export type Facts = Readonly<Record<string, string | boolean>>;
