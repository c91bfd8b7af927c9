/** Written by ./run client from orthotome/core: change the words there. */
export const DROSS_EFFORT = ["none", "brushes off", "scraper", "hammer and chisel", "grinder"] as const;

export const DEFAULT_TARGET = {"bevel_deg": 2.0, "sides": "good", "dross_grade": 1, "priority": "square_first"} as const;

export const STOPWATCH_U_S = 0.2;

export const FEELER_U_MM = 0.05;
