/**
 * a * b / 65535 rounded to the nearest, for 16-bit values: exact for all of them (half never comes up, 65535 being odd), in 32-bit integer
 * arithmetic instead of a division (Blinn, "Three wrongs make a right", IEEE Computer Graphics and Applications, 1995, for 8 bits).
 */
export function mul16(a: number, b: number): number {
  const t = (Math.imul(a, b) + 32768) >>> 0;
  return (t + (t >>> 16)) >>> 16;
}
