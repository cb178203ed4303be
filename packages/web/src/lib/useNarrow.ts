import { useSyncExternalStore } from 'react';

/** Below this width columns fold, CSS pixels: a small window, or a large one at 200 %. */
const NARROW = 860;
const query = matchMedia(`(max-width: ${NARROW}px)`);

const listen = (told: () => void) => {
  query.addEventListener('change', told);
  return () => query.removeEventListener('change', told);
};

/** Whether there is room for one column at a time. */
export const useNarrow = (): boolean => useSyncExternalStore(listen, () => query.matches);
