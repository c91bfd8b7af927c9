import { Room } from '../kit/Room';

const DOORS = [
  { to: '/torch', name: 'Parts', end: true },
  { to: '/torch/jet', name: 'How the jet stands' },
  { to: '/torch/shelf', name: 'Shelf and cost' },
];

/** The room of the torch: the parts in it, how upright its jet is, and what lies on the shelf. */
export function TorchRoom() {
  return <Room name="Torch" doors={DOORS} />;
}
