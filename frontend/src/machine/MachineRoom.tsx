import { Room } from '../kit/Room';

const DOORS = [
  { to: '/machine', name: 'The machine', end: true },
  { to: '/machine/health', name: 'Health' },
  { to: '/machine/square', name: 'Square and true' },
  { to: '/machine/holes', name: 'Holes that fit' },
  { to: '/machine/motion', name: 'How it moves' },
];

/** The machine: its own page, its health, and how square, true and quick it is. */
export function MachineRoom() {
  return <Room name="Machine" doors={DOORS} />;
}
