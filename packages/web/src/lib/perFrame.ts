/**
 * Does something with the newest of many values, once for each frame of the screen: a pointer tells of its way more often than anything
 * can be shown of it. Where there are no frames it is done at once.
 */
export function perFrame<T>(run: (newest: T) => void): { next(value: T): void; drop(): void } {
  let frame = 0;
  let newest: T;
  return {
    next(value) {
      newest = value;
      if (typeof requestAnimationFrame === 'undefined') return run(value);
      frame ||= requestAnimationFrame(() => {
        frame = 0;
        run(newest);
      });
    },
    /** What has not been done yet is not done. */
    drop() {
      if (frame) cancelAnimationFrame(frame);
      frame = 0;
    },
  };
}
