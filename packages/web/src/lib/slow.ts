/** Requests that the server has not answered for a while: whoever made them is told what it is at. */
import { useSyncExternalStore } from 'react';

/** Milliseconds after which an answer is late. */
const LATE = 2500;

let late = 0;
const listeners = new Set<() => void>();
const change = (by: number) => {
  late += by;
  for (const listener of listeners) listener();
};

/** A request begins. @returns what to call when it is answered */
export function asked(): () => void {
  let counted = false;
  const timer = setTimeout(() => {
    counted = true;
    change(1);
  }, LATE);
  return () => {
    clearTimeout(timer);
    if (counted) change(-1);
  };
}

/** Requests of this page that are late. */
export const useLate = (): number =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    () => late,
  );
