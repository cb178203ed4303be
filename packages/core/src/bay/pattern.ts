/** The missing-texture pattern: 8 x 8 fields in black and a loud magenta, 64 texels a side. */
export function missingPattern(): { width: number; height: number; pixels: Uint8Array } {
  const side = 64;
  const pixels = new Uint8Array(side * side * 4);
  for (let i = 0; i < side * side; i++) {
    const loud = (((i % side) >> 3) + ((i / side) >> 3)) & 1;
    pixels.set(loud ? [255, 0, 220, 255] : [0, 0, 0, 255], i * 4);
  }
  return { width: side, height: side, pixels };
}
