import { Room } from '../kit/Room';

const DOORS = [
  { to: '/height', name: 'Live cut', end: true },
  { to: '/height/set-point', name: 'Set-point' },
  { to: '/height/timing', name: 'Timing' },
  { to: '/height/loop', name: 'Over a warped sheet' },
  { to: '/height/recordings', name: 'Recordings' },
  { to: '/height/signal-path', name: 'Signal path' },
];

/** The room of height: the live cut, what to set and why, what was recorded, and the way of the volts to the screen. */
export function HeightRoom() {
  return <Room name="Height" doors={DOORS} />;
}
