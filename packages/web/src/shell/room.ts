import { create } from 'zustand';

const KEY = 'wet-lacquer/room';

/** How the room is lit: the panels, and all that is not art. */
export const ROOMS_TO_CHOOSE = [
  { room: 'dark', name: 'Dark room' },
  { room: 'light', name: 'Light room' },
  { room: 'system', name: 'As the system has it' },
] as const;
export type Room = (typeof ROOMS_TO_CHOOSE)[number]['room'];

const isRoom = (value: string | null): value is Room => ROOMS_TO_CHOOSE.some(({ room }) => room === value);
const kept = localStorage.getItem(KEY);

/** The room that somebody chose; dark until then. Kept in this browser. */
export const useRoom = create<{ room: Room }>(() => ({ room: isRoom(kept) ? kept : 'dark' }));

export function lightRoom(room: Room): void {
  localStorage.setItem(KEY, room);
  useRoom.setState({ room });
}

// Another window of this browser follows.
window.addEventListener('storage', ({ key, newValue }) => {
  if (key === KEY && isRoom(newValue)) useRoom.setState({ room: newValue });
});
