/**
 * Reads pairs of a cut and its sheet, as the server gives them, and writes what saving each untouched
 * would change. A test in Python makes the cuts, and asks.
 */
import { readFileSync } from 'node:fs';
import type { Cut, Trial } from '../src/kit/client';
import { correctionLog, type Sheet } from '../src/log/log';
import { changesOf } from '../src/log/sending';

const pairs = JSON.parse(readFileSync(0, 'utf8')) as { cut: Cut; sheet: Sheet }[];
const trial = { height_by_hand: false } as Trial;
const changes = pairs.map(({ cut, sheet }) => changesOf(correctionLog(cut, sheet, trial)));
process.stdout.write(JSON.stringify(changes));
