/** A sheet out to another editor and back: psd-tools and Pillow read what we write, and changes made elsewhere are found again. */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { readPsd as parse, writePsdUint8Array, type Psd } from 'ag-psd';
import { PNG } from 'pngjs';
import { beforeAll, describe, expect, test } from 'vitest';
import { renderSheet } from '../compose/renderSheet.ts';
import { applyEdit } from '../livery/edit.ts';
import type { Layer } from '../livery/layer.ts';
import { layersOf as layersOfSheet, type Livery } from '../livery/livery.ts';
import type { Image8 } from '../raster/image.ts';
import { inTemporary, python, readPng } from '../testing/layeredFiles.ts';
import { layerOf, NO_HASH, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { compositeLayered } from './composite.ts';
import { readOra } from './ora.ts';
import { readPsd } from './psd.ts';
import { editsOf, type ReturnedPlan } from './returned.ts';
import { drawnLayers, matchBack, numberOf, type DrawnLayer } from './sheetLayers.ts';
import { writeOra, writePsd } from './writeLayered.ts';

const SIDE = 64;
const size = { width: SIDE, height: SIDE };
const template = smallTemplate(SIDE);
let livery: Livery;
let layers: DrawnLayer[];
let merged: Image8;

beforeAll(async () => {
  livery = smallLivery(
    [
      layerOf('solid', { name: 'ground', paint: { hex: '#2f5d62' } }),
      layerOf('stripe', {
        name: 'stripe',
        paint: { hex: '#d9573f' },
        x: 32,
        y: 32,
        angle: 30,
        width: 12,
        softness: 3,
        opacity: 80,
      }),
      layerOf('stripe-set', {
        name: 'lines',
        paints: [{ hex: '#e8e4da' }],
        x: 20,
        y: 20,
        angle: 90,
        width: 3,
        gap: 4,
        count: 3,
        softness: 0,
        blend: 'screen',
        parts: ['left'],
      }),
      layerOf('chequer', {
        name: 'field',
        paint: { hex: '#20282b' },
        other: null,
        x: 40,
        y: 44,
        angle: 0,
        cell: 6,
        columns: 4,
        rows: 2,
        hidden: true,
      }),
    ] as Layer[],
    template,
  );
  const sources = await sourcesFor(livery, template);
  layers = drawnLayers(livery, 'face', size, sources);
  merged = renderSheet(livery, 'face', 'colour', size, sources);
});

const png = async ({ width, height, data }: Image8) => {
  const made = new PNG({ width, height });
  made.data = Buffer.from(data);
  return new Uint8Array(PNG.sync.write(made));
};
const far = (a: Image8, b: Image8) => a.data.reduce((most, v, i) => Math.max(most, Math.abs(v - b.data[i])), 0);
const pixelsOf = (psd: Psd, name: string) => psd.children!.find((layer) => layer.name === name)!.imageData!;

describe('written as PSD', () => {
  test('psd-tools finds every layer with its name, place, mixing and pixels', () => {
    const found = inTemporary((folder) => {
      const file = path.join(folder, 'out.psd');
      writeFileSync(file, writePsd(layers, merged));
      return JSON.parse(
        python(
          `
import sys, json
from psd_tools import PSDImage
psd = PSDImage.open(sys.argv[1])
print(json.dumps([[l.name, l.left, l.top, l.width, l.height, l.opacity, l.blend_mode.name, l.visible] for l in psd]))
open(sys.argv[2], 'wb').write(psd.composite(force=True, color=0.0, alpha=0.0).convert('RGBA').tobytes())
`,
          file,
          path.join(folder, 'out.raw'),
        ),
      ) as unknown[][];
    });
    expect(found.map((row) => row[0])).toEqual(['ground', 'stripe', 'lines', 'field']);
    expect(found.map((row) => [row[5], row[6], row[7]])).toEqual([
      [255, 'NORMAL', true],
      [204, 'NORMAL', true],
      [255, 'SCREEN', true],
      [255, 'NORMAL', false],
    ]);
    const lines = layers[2];
    expect(found[2].slice(1, 5)).toEqual([lines.left, lines.top, lines.image.width, lines.image.height]);
  });

  test('our own reader makes the sheet of it again, and its merged picture is the sheet', () => {
    const file = readPsd(writePsd(layers, merged));
    expect(far(compositeLayered(file), merged)).toBeLessThanOrEqual(1);
    expect(far(file.merged!, merged)).toBe(0);
  });

  test('come back untouched, every layer stays what it is', () => {
    const back = matchBack(layers, readPsd(writePsd(layers, merged)));
    expect(back).toMatchObject({ same: 4, settings: [], repainted: [], added: [], gone: [] });
  });
});

test('OpenRaster is opened by Pillow and Python’s zip, mimetype first and stored, and comes back whole', async () => {
  const bytes = await writeOra(layers, merged, await png(merged), png);
  const found = inTemporary((folder) => {
    const file = path.join(folder, 'out.ora');
    writeFileSync(file, bytes);
    return JSON.parse(
      python(
        `
import sys, zipfile, json, io
import xml.etree.ElementTree as ET
from PIL import Image
z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None
first = z.infolist()[0]; assert (first.filename, first.compress_type, z.read(first)) == ('mimetype', 0, b'image/openraster')
root = ET.fromstring(z.read('stack.xml'))
out = []
for layer in root.find('stack').findall('layer'):
    im = Image.open(io.BytesIO(z.read(layer.get('src'))))
    out.append([layer.get('name'), int(layer.get('x')), int(layer.get('y')), im.size[0], layer.get('composite-op'), layer.get('visibility')])
print(json.dumps({'layers': out, 'merged': Image.open(io.BytesIO(z.read('mergedimage.png'))).size}))
`,
        file,
      ),
    ) as { layers: unknown[][]; merged: number[] };
  });
  expect(found.merged).toEqual([SIDE, SIDE]);
  expect(found.layers.map((row) => [row[0], row[4], row[5]])).toEqual([
    ['field', 'svg:src-over', 'hidden'],
    ['lines', 'svg:screen', 'visible'],
    ['stripe', 'svg:src-over', 'visible'],
    ['ground', 'svg:src-over', 'visible'],
  ]);
  const back = matchBack(layers, await readOra(bytes, readPng));
  expect(back).toMatchObject({ same: 4, settings: [], repainted: [], added: [], gone: [] });
});

describe('changed elsewhere', () => {
  const changed = (change: (psd: Psd) => void): Uint8Array => {
    const psd = parse(writePsd(layers, merged), { useImageData: true });
    change(psd);
    return writePsdUint8Array(psd, { generateThumbnail: false, noBackground: true });
  };
  const plan = (bytes: Uint8Array): ReturnedPlan => {
    const { repainted, added, settings, ...rest } = matchBack(layers, readPsd(bytes));
    const picture = ({ name, left, top, hidden, opacity, blend, image }: (typeof repainted)[number]['flat']) => {
      const { width, height } = image;
      return { name, left, top, hidden, opacity: opacity * 100, blend, width, height, blob: NO_HASH };
    };
    return {
      ...rest,
      gone: [...rest.gone],
      settings: settings.map(({ layer, set }) => ({
        layer,
        set: { ...set } as Record<string, string | number | boolean>,
      })),
      repainted: repainted.map(({ layer, flat }) => ({ layer, picture: picture(flat) })),
      added: added.map(({ above, flat }) => ({ above, picture: picture(flat) })),
    };
  };
  const after = (made: ReturnedPlan) =>
    layersOfSheet(applyEdit(livery, { do: 'together', edits: editsOf(livery, 'face', made) }).livery, 'face');

  test('a painted layer becomes pixels in its place, also under another name; the others stay parametric', () => {
    const made = plan(
      changed((psd) => {
        pixelsOf(psd, 'stripe').data.fill(255, 0, 400);
        psd.children!.find((layer) => layer.name === 'stripe')!.name = 'stripe, painted on';
      }),
    );
    expect(made).toMatchObject({ same: 3, added: [], gone: [] });
    expect(made.repainted.map(({ layer }) => layer)).toEqual([layers[1].layer]);
    expect(after(made).map((layer) => [layer.kind, layer.name])).toEqual([
      ['solid', 'ground'],
      ['picture', 'stripe, painted on'],
      ['stripe-set', 'lines'],
      ['chequer', 'field'],
    ]);
  });

  test('settings alone are taken over without touching the layer’s kind', () => {
    const made = plan(
      changed((psd) => {
        const [ground, , , field] = psd.children!;
        field.hidden = false;
        ground.opacity = 0.5;
        ground.blendMode = 'multiply';
      }),
    );
    expect(made.repainted).toEqual([]);
    const [ground, , , field] = after(made);
    expect([ground.kind, ground.blend, Math.round(ground.opacity), field.kind, field.hidden]).toEqual([
      'solid',
      'multiply',
      50,
      'chequer',
      false,
    ]);
  });

  test('new layers go where they lie, in their order; one that is missing is kept and named', () => {
    const made = plan(
      changed((psd) => {
        const patch = () => ({ width: 4, height: 4, data: new Uint8ClampedArray(64).fill(200) });
        psd.children!.splice(
          1,
          1,
          { name: 'one', left: 2, top: 2, imageData: patch() },
          { name: 'two', left: 9, top: 2, imageData: patch() },
        );
      }),
    );
    expect(made.gone).toEqual(['stripe']);
    expect(after(made).map((layer) => layer.name)).toEqual(['ground', 'one', 'two', 'stripe', 'lines', 'field']);
  });

  test('numbers for layers are positive and differ', () => {
    const numbers = Array.from({ length: 500 }, (_, i) => numberOf(`layer-${i}`));
    expect(new Set(numbers).size).toBe(500);
    for (const n of numbers) expect(n > 0 && n < 2 ** 31).toBe(true);
  });
});
