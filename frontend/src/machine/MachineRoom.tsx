import { Room } from '../kit/Room';

const DOORS = [
  { to: '/machine', name: 'The machine', end: true },
  { to: '/machine/square', name: 'Square and true' },
];

/** The machine: its own page, and whether it cuts square and to scale. */
export function MachineRoom() {
  return <Room name="Machine" doors={DOORS} />;
}
