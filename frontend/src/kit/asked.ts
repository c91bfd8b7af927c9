import '@tanstack/react-query';

/** What pages ask the server and keep, each by its word and by what it is asked of. A key that is not here is no key: the
 * compiler says so. An answer is made old by its word, or by as much of what follows as is known. */
interface Asked {
  air: [air: unknown];
  axes: [x: unknown, y: unknown];
  backups: [];
  bench: [trialId: number, revision: number];
  'check said': [tableId: number, check: unknown];
  checks: [tableId: number];
  choose: [job: unknown];
  compare: [one: number | null, other: number | null, recipe: number | null];
  complaints: [];
  converted: [trialId: number, given: unknown];
  devices: [];
  door: [];
  draft: [trialId: number];
  drawn: [traceId: number, begins_s: number, ends_s: number, slices: number];
  facts: [tableId: number];
  gradings: [];
  health: [tableId: number];
  height: [trialId: number, ahead: unknown];
  history: [trialId: number, cutId: number, version: number];
  'hole to draw': [tableId: number, of: unknown, wanted: unknown, purpose: unknown];
  holes: [tableId: number, of: unknown];
  instruments: [thickness_mm: number | 'sizes' | null, target_deg: number | null];
  judged: [tableId: number, version: number, measures: unknown];
  line: [tableId: number];
  lock: [trialId: number, revision: number, lengthUnit: string];
  looked: [partId: number, looks: unknown, pit_mm: number | null, whole: unknown];
  loop: [job: unknown];
  measured: [tableId: number];
  metals: [];
  network: [];
  'own-parts': [];
  pairing: [];
  'part looks': [];
  parts:
    | [tableId: number]
    | [only: 'rough', torchSetId: number | null, bevel_deg: number, dross_grade: number];
  people: [];
  photos: [trialId: number, of: unknown];
  piece:
    | [trialId: number, revision: number, asked: unknown]
    | [only: 'played', trialId: number, revision: number, query: unknown];
  plates: [tableId: number];
  practice: [];
  'practice case': [caseId: string, asked: unknown];
  'practice debrief': [runId: number];
  'practice masters': [runId: number];
  'practice run': [runId: number];
  'practice tables': [];
  'profile-preview': [profile: unknown, xRuns: unknown, yRuns: unknown];
  profiles: [];
  program: [programId: number, only: 'holes' | 'ways', version: number];
  'program settings': [tableId: number];
  programs: [tableId: number];
  'proof piece': [tableId: number, name: string, of: unknown, more: unknown];
  'put aside': [];
  questions: [trialId: number, settled: unknown];
  readiness: [tableId: number] | [only: 'of-trial', trialId: number];
  reading: [watch: unknown];
  recipes: [recipeId: number];
  recorded: [trialId: number];
  recordings: [tableId: number];
  remade: [programId: number, asked: unknown];
  revision: [trialId: number];
  rows: [only: 'sheet' | 'history' | 'of' | 'pages', of: unknown, torchSetId: number | null];
  'run-up': [traceId: number];
  settings: [tableId: number];
  shop: [];
  'signal-path': [file: unknown];
  'signal-paths': [tableId: number];
  'squares to cut': [trialId: number, opened: unknown, count: unknown];
  start: [
    metal: string,
    thickness_mm: number | null,
    torchSetId: number | null,
    gas: unknown,
    tableId: number | null,
  ];
  stock: [];
  tables: [];
  target: [thickness_mm: number | null, way: unknown, value: unknown];
  torch: [tableId: number];
  'torch-sets': [];
  trace: [traceId: number];
  trials: [sought: string, most: number];
  trims: [traceId: number];
  trim: [trialId: number];
  trouble: [tableId: number, complaint: string, facts: unknown, ofCut: boolean];
  'trouble cases': [];
  'trouble of the last cut': [tableId: number];
  watch: [recipeId: number, badPart: unknown, check: unknown, each: unknown];
  'what-if': [trialId: number, revision: number, at: unknown];
}

type AsFarAsKnown<Of extends unknown[]> = Of extends unknown ? Partial<Of> : never;
export type Key = { [Word in keyof Asked]: readonly [Word, ...AsFarAsKnown<Asked[Word]>] }[keyof Asked];

declare module '@tanstack/react-query' {
  interface Register {
    queryKey: Key;
  }
}
