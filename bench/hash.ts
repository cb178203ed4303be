/** A number for each place, the same on every machine. */
export const hasher = (seed: number) => (x: number, y: number) => {
  let h = (x * 374761393 + y * 668265263 + seed * 2147483647) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return (h ^ (h >>> 16)) & 31;
};
