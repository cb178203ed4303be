/** Draws subjects from four sides into a PNG, to look at while shapes are made: `npx tsx demo/look.ts OUT KEY ...`. */
import sharp from 'sharp';
import { portrait } from '../packages/core/src/surface/portrait.ts';
import { newImage } from '../packages/core/src/raster/image.ts';
import { islandsOf } from '../packages/core/src/surface/islands.ts';
import { SUBJECTS } from './games/index.ts';

const [out, ...keys] = process.argv.slice(2);
const [W, H] = [480, 320];
const VIEWS = [
  [138, 16],
  [35, 20],
  [90, 5],
  [180, 60],
] as const;
const rows = SUBJECTS.map((make) => make().template).filter(({ key }) => keys.length === 0 || keys.includes(key));
const tiles = [];
for (const [row, template] of rows.entries()) {
  const sheets = new Map(template.sheets.map(({ key }) => [key, chequered()]));
  for (const [column, [heading, elevation]] of VIEWS.entries()) {
    const { data } = portrait(template, sheets, { width: W, height: H, heading, elevation });
    const input = await sharp(data, { raw: { width: W, height: H, channels: 4 } })
      .png()
      .toBuffer();
    tiles.push({ input, left: column * W, top: row * H });
  }
  const used = template.sheets.map((sheet) => {
    const texels = new Map<string, number>();
    for (const part of template.parts.filter((p) => p.sheet === sheet.key)) {
      let area = 0;
      for (let t = part.first; t < part.first + part.count; t++) {
        const [a, b, c] = [0, 1, 2].map((k) => template.mesh.indices[t * 3 + k] * 2);
        const uv = template.mesh.uvs;
        area += ((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[c] - uv[a]) * (uv[b + 1] - uv[a + 1])) / 2;
      }
      texels.set(part.name, area);
    }
    const share = [...texels.values()].reduce((sum, area) => sum + Math.abs(area), 0);
    return `${sheet.key} ${Math.round(share * 100)} %`;
  });
  const mirrored = islandsOf(template).filter((island) => island.mirrored);
  console.log(
    `${template.key}: ${template.mesh.indices.length / 3} triangles; ${used.join(', ')}; mirrored: ${mirrored.flatMap(({ parts }) => parts).join(', ')}; turned in: ${turnedIn(template).join(', ')}`,
  );
}
await sharp({ create: { width: W * 4, height: H * rows.length, channels: 3, background: '#777777' } })
  .composite(tiles)
  .png()
  .toFile(out);

function chequered() {
  const image = newImage(64, 64);
  for (let i = 0; i < 64 * 64; i++) {
    const light = ((i >> 2) + (i >> 8)) % 2 === 0;
    image.data.set([light ? 200 : 170, light ? 205 : 180, light ? 200 : 190, 255], i * 4);
  }
  return image;
}

/** Parts whose normals look at the part's own middle more often than away from it. */
function turnedIn({ mesh, parts }: Pick<(typeof rows)[number], 'mesh' | 'parts'>): string[] {
  return parts
    .filter(({ first, count }) => {
      const corners = mesh.indices.slice(first * 3, (first + count) * 3);
      const middle = [0, 1, 2].map(
        (k) => corners.reduce((sum, i) => sum + mesh.positions[i * 3 + k], 0) / corners.length,
      );
      const out = corners.reduce((sum, i) => {
        const away = [0, 1, 2].map((k) => mesh.positions[i * 3 + k] - middle[k]);
        return sum + Math.sign(away.reduce((d, value, k) => d + value * mesh.normals[i * 3 + k], 0));
      }, 0);
      return out < 0;
    })
    .map(({ name }) => name);
}
