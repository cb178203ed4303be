/** Models in any unit stand on the turntable: what is in millimetres for one is in kilometres for the other. */
import { PNG } from 'pngjs';
import { expect, makeTemplate, test } from './fixture.ts';

/** A box of a size, each side of it a square of the sheet. */
function box(size: number): string {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1, (i >> 1) & 1, i >> 2].map((v) => (v - 0.5) * size));
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const uvs = faces.flatMap((_, f) => {
    const [x, y] = [(f % 3) / 3, Math.floor(f / 3) / 2];
    return [
      [x + 0.02, y + 0.02],
      [x + 0.31, y + 0.02],
      [x + 0.31, y + 0.48],
      [x + 0.02, y + 0.48],
    ];
  });
  return [
    ...corners.map((v) => `v ${v.join(' ')}`),
    ...uvs.map((v) => `vt ${v.join(' ')}`),
    'usemtl hull',
    ...faces.map((face, f) => `f ${face.map((v, k) => `${v + 1}/${f * 4 + k + 1}`).join(' ')}`),
  ].join('\n');
}

for (const size of [0.002, 2, 5000])
  test(`a box of ${size} units is seen on the turntable`, async ({ page }) => {
    await page.goto('/templates');
    await page
      .getByLabel('Files to bring in')
      .setInputFiles({ name: 'box.obj', mimeType: 'text/plain', buffer: Buffer.from(box(size)) });
    await page.waitForURL(/\/templates\/bring\//);
    await makeTemplate(page, 'Sizes');
    const model = page.getByRole('img', { name: /turntable/ });
    /** Share of the picture that is coloured: islands of the locator are, ground and surround are grey. */
    const coloured = async () => {
      const { data, width, height } = PNG.sync.read(await model.screenshot());
      let n = 0;
      for (let i = 0; i < data.length; i += 4)
        if (Math.max(data[i], data[i + 1], data[i + 2]) - Math.min(data[i], data[i + 1], data[i + 2]) > 40) n++;
      return n / (width * height);
    };
    await expect.poll(coloured, { timeout: 45_000 }).toBeGreaterThan(0.03);
  });
