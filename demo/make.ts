/** Makes the demo world's files in demo/out/ from the scripts beside this one: `npm run demo`. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { packPixels } from '../packages/core/src/files/pixels.ts';
import { drawSvg, startSvg } from '../packages/core/src/files/svg.ts';
import { writeTemplatePackage } from '../packages/core/src/files/templatePackage.ts';
import { LayerId } from '../packages/core/src/livery/ids.ts';
import type { Layer } from '../packages/core/src/livery/layer.ts';
import { originalLayer } from '../packages/core/src/livery/originalLayer.ts';
import type { Image8 } from '../packages/core/src/raster/image.ts';
import { deckTemplate } from './deckTemplate.ts';
import { gameFiles, SUBJECTS } from './games/index.ts';
import { ZIP_TIME } from '../packages/core/src/files/archive.ts';
import { writeBundle, type Borrowed } from '../packages/core/src/files/bundle.ts';
import { writeGlb, writeObj } from '../packages/core/src/models/writeMesh.ts';
import { SHIPPED_FONTS } from '../packages/core/src/livery/fonts.ts';
import type { Sha256 } from '../packages/core/src/livery/ids.ts';
import { ebbline, lanternfish, ternTide } from './liveries.ts';
import { MARKS, markBytes } from './marks.ts';
import { hashOf } from './paint.ts';
import { newLivery } from '../packages/core/src/livery/newLivery.ts';
import { turnstone } from './turnstone.ts';
import {
  ebblineBrock,
  ebblineSail,
  rescueCourier,
  rescueDunlin,
  rescueLampkin,
  ternLevel,
  ternWhimbrel,
} from './fleet.ts';
import type { Scene } from '../packages/node/src/threads/scene.ts';
import { picture } from '../packages/node/src/threads/tasks.ts';
import { VIEW } from '../packages/server/src/jobs/picture.ts';
import { openTemplate } from '../packages/node/src/threads/templates.ts';
import type { Template } from '../packages/core/src/livery/template.ts';

const out = new URL('out/', import.meta.url);
mkdirSync(out, { recursive: true });
const save = (name: string, data: string | Uint8Array) => writeFileSync(new URL(name, out), data);

const template = turnstone();
save('turnstone.template.json', JSON.stringify(template));
save('turnstone.glb', await writeGlb(template));
save('turnstone.obj', writeObj(template));
save(
  'marks.json',
  JSON.stringify(
    MARKS.map((mark) => ({ ...mark, origin: 'Drawn for the demo world of Wet Lacquer', licence: 'CC0-1.0' })),
    null,
    1,
  ) + '\n',
);

await startSvg(() => readFileSync(createRequire(import.meta.url).resolve('@resvg/resvg-wasm/index_bg.wasm')));
const png = async ({ width, height, data }: Image8) =>
  new Uint8Array(
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 9 })
      .toBuffer(),
  );
/** Subjects as they are stored, with the pixels that they begin with. */
const subjects = new Map<string, { template: Template; blobs: Map<string, Uint8Array> }>([
  ['turnstone', { template, blobs: new Map() }],
]);
for (const make of SUBJECTS) {
  const { template: bare, originals } = make();
  const blobs = new Map<string, Uint8Array>();
  const begin: Record<string, Layer[]> = {};
  for (const [of, drawing] of Object.entries(originals)) {
    const packed = packPixels(drawSvg(drawing.svg, Math.max(drawing.width, drawing.height)));
    const hash = hashOf(packed);
    blobs.set(hash, packed);
    begin[of] = [originalLayer(hash, drawing, LayerId.parse(`original-${of.replace('/', '-')}`))];
  }
  const made = { ...bare, ...(Object.keys(begin).length > 0 && { begin }) };
  const bytes = await writeTemplatePackage(made, blobs, png);
  save(`${bare.key}.template.zip`, bytes);
  subjects.set(bare.key, { template: (await openTemplate({ bytes })).document, blobs });
  console.log(`${bare.key}: ${bare.mesh.indices.length / 3} triangles`);
}
for (const [key, { template: bare, blobs }] of subjects) {
  const livery = newLivery(bare, hashOf(JSON.stringify(bare)), 'New');
  save(`${key}.png`, await picture({ scene: { livery, template: bare, blobs }, ...VIEW }));
}
for (const [game, files] of Object.entries(gameFiles()))
  save(`${game}.game.zip`, zipSync(files, { mtime: ZIP_TIME, level: 9 }));
save('turnstone-deck.psd', deckTemplate(template));

const require = createRequire(import.meta.url);
const fontBytes = (key: string) => {
  const font = SHIPPED_FONTS.find((f) => f.key === key)!;
  const folder = path.dirname(require.resolve(`@fontsource/${font.package}/package.json`));
  return new Uint8Array(readFileSync(path.join(folder, `files/${font.package}-latin-${font.weight}-normal.woff`)));
};

const turnstones = [ternTide, ebbline, lanternfish].map((make) => () => ({
  ...make(),
  subject: 'turnstone',
  boxes: {},
}));
const fleet = [ternWhimbrel, rescueCourier, ternLevel, rescueLampkin, ebblineSail, rescueDunlin, ebblineBrock];
for (const make of [...turnstones, ...fleet.map((one) => () => ({ finish: {}, finishes: undefined, ...one() }))]) {
  const { painter, particulars, finish, finishes, subject, boxes } = make();
  const { template: painted, blobs: begun } = subjects.get(subject)!;
  const draft = painter.livery(painted, particulars, finish, boxes, finishes);
  const layers = draft.sheets.flatMap((sheet) => sheet.maps.flatMap((map) => map.layers));
  const fonts = new Map<string, Uint8Array>();
  const blobs = new Map<Sha256, Uint8Array>();
  for (const layer of layers) {
    if (layer.kind === 'lettering') fonts.set(layer.font, fontBytes(layer.font));
    if (layer.kind === 'decal')
      blobs.set(
        layer.blob,
        MARKS.map((mark) => markBytes(mark.file)).find((bytes) => hashOf(bytes) === layer.blob)!,
      );
    if (layer.kind === 'picture') blobs.set(layer.blob, begun.get(layer.blob)!);
  }
  const pins = { ...draft.pins, fonts: Object.fromEntries([...fonts].map(([key, bytes]) => [key, hashOf(bytes)])) };
  const livery = { ...draft, pins };
  const borrowed: Borrowed[] = MARKS.filter((mark) => blobs.has(hashOf(markBytes(mark.file)))).map((mark) => ({
    blob: hashOf(markBytes(mark.file)),
    name: mark.name,
    origin: 'Drawn for the demo world of Wet Lacquer',
    licence: 'CC0-1.0',
  }));
  save(
    `${particulars.key}.livery`,
    writeBundle({ livery, template: painted, blobs, fonts, files: new Map(), borrowed }),
  );
  const scene: Scene = { livery, template: painted, blobs: new Map([...blobs, ...begun]), fonts };
  save(`${particulars.key}.png`, await picture({ scene, ...VIEW }));
  console.log(`${particulars.key}: ${layers.length} layers`);
}
