/** Milliseconds of one fixed loop on one thread: how fast the machine is just now, so that figures of two hours can be held against each other. */
export function calibration(): number {
  const began = performance.now();
  let state = 1;
  for (let i = 0; i < 200_000_000; i++) state = (Math.imul(state, 1103515245) + 12345) | 0;
  if (state === 0) throw new Error('the loop was not run');
  return performance.now() - began;
}
