/** Median and 95th percentile, in the unit of the values. */
export function spread(values: readonly number[]): { median: number; p95: number } {
  const sorted = values.toSorted((a, b) => a - b);
  return {
    median: sorted[Math.floor(sorted.length / 2)],
    p95: sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * 0.95))],
  };
}
