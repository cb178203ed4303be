import { create } from 'zustand';

const KEY = 'wet-lacquer/columns';

/** Whether columns stand on the other side: for a pen in the left hand. Kept in this browser. */
export const useSides = create<{ swapped: boolean }>(() => ({ swapped: localStorage.getItem(KEY) === 'swapped' }));

export function swapSides(): void {
  const swapped = !useSides.getState().swapped;
  if (swapped) localStorage.setItem(KEY, 'swapped');
  else localStorage.removeItem(KEY);
  useSides.setState({ swapped });
}
