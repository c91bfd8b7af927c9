/** Written by ./run client from orthotome/core: change the words there. */
export const DROSS_EFFORT = ["none", "brushes off", "scraper", "hammer and chisel", "grinder"] as const;

export const DEFAULT_TARGET = {"bevel_deg": 2.0, "sides": "good", "dross_grade": 1, "priority": "square_first"} as const;

export const COLUMN_WORDS: Record<string, string> = {"metal": "Metal", "thickness_mm": "Thickness", "torch_set": "Torch set", "amperage_a": "Amperage", "gas": "Plasma gas", "speed_mm_min": "Speed", "arc_voltage_v": "Arc voltage", "cut_height_mm": "Cut height", "pierce_height_mm": "Pierce height", "pierce_delay_s": "Pierce delay", "kerf_mm": "Kerf", "source": "Where it comes from", "shield_gas": "Shield gas", "gas_pressure_kpa": "Gas pressure", "gas_flow_l_min": "Gas flow", "shield_pressure_kpa": "Shield pressure", "shield_flow_l_min": "Shield flow", "surface": "Surface", "bed": "Bed", "water_level_mm": "Water above plate underside", "least_thickness_mm": "Sensible from", "most_thickness_mm": "Sensible up to"};

export const WAYS = ["to the right", "to the right and away from you", "away from you", "to the left and away from you", "to the left", "to the left and toward you", "toward you", "to the right and toward you"] as const;

export const STOPWATCH_U_S = 0.2;

export const FEELER_U_MM = 0.05;
