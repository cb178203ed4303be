/** UV layouts against Chromium's canvas, which rasterises by itself (Skia, analytic coverage). */
import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { readGltf } from '../packages/core/src/models/gltf.ts';
import { subjectOf } from '../packages/core/src/models/mesh.ts';
import { strokeCoverage } from '../packages/core/src/shapes/coverage.ts';
import { uvLines } from '../packages/core/src/surface/guides.ts';
import { islandsOf } from '../packages/core/src/surface/islands.ts';
import { sheetCover } from '../packages/core/src/surface/layout.ts';
import { triangleOnSheet } from '../packages/core/src/surface/triangles.ts';

const SIDE = 1024;

for (const sheet of ['hull', 'deck', 'fan']) {
  test(`islands and wire of the ${sheet} lie where the browser draws them`, async ({ page }) => {
    const read = await readGltf(new Uint8Array(readFileSync('demo/out/turnstone.glb')));
    const subject = subjectOf(read, SIDE);
    const triangles = islandsOf(subject)
      .filter((island) => island.sheet === sheet)
      .flatMap((island) => island.triangles.map((t) => [...triangleOnSheet(subject.mesh, t, SIDE, SIDE)]));
    const { wire } = uvLines(subject, sheet);
    await page.goto('about:blank');
    const theirs = await page.evaluate(
      ({ triangles, wire, side }) => {
        const alpha = (draw: (c: OffscreenCanvasRenderingContext2D) => void) => {
          const context = new OffscreenCanvas(side, side).getContext('2d', { willReadFrequently: true })!;
          draw(context);
          const { data } = context.getImageData(0, 0, side, side);
          let text = '';
          for (let i = 3; i < data.length; i += 4) text += String.fromCharCode(data[i]);
          return btoa(text);
        };
        return {
          islands: alpha((c) => {
            for (const [ax, ay, bx, by, cx, cy] of triangles) {
              c.beginPath();
              c.moveTo(ax, ay);
              c.lineTo(bx, by);
              c.lineTo(cx, cy);
              c.fill();
            }
          }),
          wire: alpha((c) => {
            c.lineWidth = 1;
            c.lineCap = 'round';
            for (let i = 0; i < wire.length; i += 4) {
              c.beginPath();
              c.moveTo(wire[i], wire[i + 1]);
              c.lineTo(wire[i + 2], wire[i + 3]);
              c.stroke();
            }
          }),
        };
      },
      { triangles, wire: [...wire], side: SIDE },
    );
    const [islands, lines] = [theirs.islands, theirs.wire].map((text) => new Uint8Array(Buffer.from(text, 'base64')));
    // Texels that the browser covers wholly are the islands', and those that it leaves clear are not.
    const cover = sheetCover(subject, islandsOf(subject), sheet, SIDE).island;
    let [full, clear, wrong] = [0, 0, 0];
    islands.forEach((alpha, i) => {
      if (alpha === 255) full++;
      if (alpha === 0) clear++;
      if ((alpha === 255 && cover[i] === 0) || (alpha === 0 && cover[i] !== 0)) wrong++;
    });
    expect(full).toBeGreaterThan(50_000);
    expect(clear).toBeGreaterThan(50_000);
    expect(wrong).toBe(0);
    // A wire texel is theirs and ours, or nobody's.
    const segments = Array.from({ length: wire.length / 4 }, (_, i) => wire.slice(i * 4, i * 4 + 4));
    const ours = strokeCoverage(segments, 0.5, SIDE, SIDE);
    let [strong, missed, strange] = [0, 0, 0];
    lines.forEach((alpha, i) => {
      if (alpha > 200) strong++;
      if (alpha > 200 && ours[i] < 0.5) missed++;
      if (alpha === 0 && ours[i] > 0.25) strange++;
    });
    expect(strong).toBeGreaterThan(2_000);
    expect(missed / strong).toBeLessThan(0.01);
    // Ours fades over one texel by distance, theirs by area: a few corners differ.
    expect(strange / strong).toBeLessThan(0.03);
  });
}
