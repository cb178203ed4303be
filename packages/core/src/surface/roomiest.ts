import { nearestInside } from '../raster/nearest.ts';

/**
 * For each number of a raster the cell that is farthest from any that has another, and from the border.
 * @param numbers `width` x `height` of them, rows from the top; 0: nothing
 * @returns by number the cell, and how far it is from where the number ends, in cells
 */
export function roomiest(
  numbers: Int32Array,
  width: number,
  height: number,
): Map<number, { x: number; y: number; room: number }> {
  const edge = new Uint8Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const own = numbers[i];
      const rim = x === 0 || y === 0 || x === width - 1 || y === height - 1;
      if (
        own === 0 ||
        rim ||
        numbers[i - 1] !== own ||
        numbers[i + 1] !== own ||
        numbers[i - width] !== own ||
        numbers[i + width] !== own
      )
        edge[i] = 1;
    }
  }
  const nearest = nearestInside(edge, width, height);
  const best = new Map<number, { i: number; distance: number }>();
  for (let i = 0; i < numbers.length; i++) {
    if (numbers[i] === 0) continue;
    const dx = (i % width) - (nearest[i] % width);
    const dy = Math.floor(i / width) - Math.floor(nearest[i] / width);
    const distance = dx * dx + dy * dy;
    const known = best.get(numbers[i]);
    if (!known || distance > known.distance) best.set(numbers[i], { i, distance });
  }
  return new Map(
    [...best].map(([number, { i, distance }]) => [
      number,
      { x: i % width, y: Math.floor(i / width), room: Math.sqrt(distance) },
    ]),
  );
}
