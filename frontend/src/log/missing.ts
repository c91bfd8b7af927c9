import { bevelOf, isComb, type Log } from './log';

const slotSeen = (log: Log, slot: number): boolean =>
  log.strips[slot]?.answer !== undefined ||
  typeof log.strips[slot]?.volts === 'number' ||
  log.sheet.slots.some((s) => s.item === slot && bevelOf(log.edges[s.key]) !== null);

/** What is not read yet, in words. */
export function missingText(log: Log, waitsForAnswer: boolean): string {
  if (isComb(log)) {
    const slots = log.sheet.items.filter((i) => slotSeen(log, i.number)).length;
    return `${slots} of ${log.sheet.items.length} slots looked at. What is left out stays unknown.`;
  }
  if (waitsForAnswer) return 'A number above waits for your answer: it is kept once you say.';
  if (log.sheet.slots.length === 0) return 'What is left out stays unknown.';
  const unread = log.sheet.slots.filter(
    (s) => s.kept && s.side !== 'both' && bevelOf(log.edges[s.key]) === null,
  ).length;
  const missing = [
    log.through === null ? 'whether it dropped' : '',
    unread > 0 ? `${unread} kept ${unread === 1 ? 'edge' : 'edges'}` : '',
    log.volts === '' ? 'volts' : '',
    log.dross === null ? 'the underside' : '',
  ].filter(Boolean);
  return missing.length === 0
    ? 'All there.'
    : `Not read yet: ${missing.join(', ')}. What is left out stays unknown.`;
}
