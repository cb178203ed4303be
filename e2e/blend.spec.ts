/** The sixteen blend modes against Chromium's own canvas, an independent implementation of the same W3C specification. */
import { blendOver } from '../packages/core/src/raster/blend.ts';
import { W3C_MODES } from '../packages/core/src/livery/layer.ts';
import { pictureOf } from '../packages/core/src/raster/picture.ts';
import { toStraight8 } from '../packages/core/src/raster/tile16.ts';
import { randomFrom } from '../packages/core/src/testing/images.ts';
import { newImage, type Image8 } from '../packages/core/src/raster/image.ts';
import { expect, test } from './fixture.ts';

const SIDE = 48;

/** Blocks of random colours and alphas: opaque, clear and between. */
function patches(seed: number): Image8 {
  const random = randomFrom(seed);
  const image = newImage(SIDE, SIDE);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const kind = random();
    const alpha = kind < 0.3 ? 255 : kind < 0.4 ? 0 : Math.floor(16 + random() * 240);
    image.data.set([random() * 256, random() * 256, random() * 256, alpha].map(Math.floor), i * 4);
  }
  return image;
}

for (const mode of W3C_MODES) {
  test(`${mode}: a stack of three agrees within 2 of 255 where alpha is at least 16`, async ({ page }) => {
    await page.goto('/mark.svg');
    const stack = [patches(1), patches(2), patches(3)];
    const ours = pictureOf(stack[0]).levels[0].data.slice();
    for (const layer of stack.slice(1)) blendOver(ours, pictureOf(layer).levels[0].data, mode);
    const got = toStraight8(ours, SIDE, SIDE, 0, 0);
    const theirs = await page.evaluate(
      ([pictures, operation, side]) => {
        // Half floats: an 8-bit premultiplied canvas could not give straight colours back that well at low alpha.
        const canvas = () => {
          const made = new OffscreenCanvas(side, side).getContext('2d', { colorType: 'float16' } as never);
          return made as unknown as OffscreenCanvasRenderingContext2D;
        };
        const target = canvas();
        for (const [k, data] of pictures.entries()) {
          const source = canvas();
          source.putImageData(new ImageData(Uint8ClampedArray.from(data), side, side), 0, 0);
          target.globalCompositeOperation = (
            k === 0 ? 'copy' : operation === 'normal' ? 'source-over' : operation
          ) as GlobalCompositeOperation;
          target.drawImage(source.canvas, 0, 0);
        }
        return [...target.getImageData(0, 0, side, side).data];
      },
      [stack.map((image) => [...image.data]), mode, SIDE] as const,
    );
    let compared = 0;
    const apart: string[] = [];
    for (let i = 0; i < got.length; i += 4) {
      if (got[i + 3] < 16) continue;
      compared++;
      for (let c = 0; c < 4; c++) {
        const difference = Math.abs(got[i + c] - theirs[i + c]);
        if (difference > 2)
          apart.push(`texel ${i / 4}, channel ${c}, alpha ${got[i + 3]}: ${got[i + c]} and ${theirs[i + c]}`);
      }
    }
    expect(apart).toEqual([]);
    expect(compared).toBeGreaterThan(2000);
  });
}
