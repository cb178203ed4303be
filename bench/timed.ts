/** How long something takes, milliseconds. */
export function timed(work: () => void): number {
  const began = performance.now();
  work();
  return performance.now() - began;
}
