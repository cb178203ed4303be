import { strToU8, unzipSync, zipSync } from 'fflate';
import { beforeAll, describe, expect, test } from 'vitest';
import { InputError } from '../errors.ts';
import { findLayer, layersIn } from '../livery/livery.ts';
import { readWithImageMagick } from '../testing/independent.ts';
import { demoBundle, demoBytes, sourcesFor, smallLivery, smallTemplate } from '../testing/scenes.ts';
import { picture } from '../testing/images.ts';
import { readBundle, writeBundle } from './bundle.ts';
import { readGltf } from '../models/gltf.ts';
import { readObj } from '../models/obj.ts';
import { packPixels, unpackPixels } from './pixels.ts';
import { drawSvg, readSvg } from './svg.ts';

beforeAll(async () => {
  // Starts the rasteriser.
  await sourcesFor(smallLivery([]), smallTemplate());
});

describe('a livery bundle', () => {
  test('comes back complete, and writes the same bytes again', async () => {
    const bundle = await demoBundle('ebbline');
    const bytes = writeBundle(bundle);
    const again = await readBundle(bytes);
    expect(again).toEqual(bundle);
    expect(Buffer.compare(Buffer.from(writeBundle(again)), Buffer.from(bytes))).toBe(0);
  });

  test('holds open formats only: JSON, SVG, fonts', async () => {
    const names = Object.keys(unzipSync(demoBytes('ebbline.livery')));
    expect(names).toEqual(expect.arrayContaining(['livery.json', 'template.json', 'credits.json']));
    for (const name of names)
      expect(name).toMatch(/^(livery|template|credits)\.json$|^blobs\/[0-9a-f]{64}$|^fonts\/[a-z0-9-]+\.woff$/);
  });

  test('says where each borrowed decal comes from and under which licence', async () => {
    const { borrowed, livery } = await demoBundle('tern-tide');
    for (const layer of layersIn(livery))
      if (layer.kind === 'decal') expect(borrowed.find((b) => b.blob === layer.blob)?.licence).toBe('CC0-1.0');
  });

  test.each([
    ['is not a zip', () => strToU8('hello'), /not a zip/],
    ['is cut off', () => demoBytes('ebbline.livery').subarray(0, 4000), /cut off/],
    ['lacks its livery', () => zipSync({ 'template.json': strToU8('{}') }), /has no livery.json/],
    ['holds what is not JSON', () => zipSync({ 'livery.json': strToU8('{') }), /is not JSON/],
    [
      'holds another document',
      () => zipSync({ 'livery.json': strToU8('{"schema":9}') }),
      /livery.json in this bundle: This livery is of version 9/,
    ],
  ])('that %s is refused in a sentence', async (_what, make, sentence) => {
    await expect(readBundle(make())).rejects.toThrow(sentence);
    await expect(readBundle(make())).rejects.toBeInstanceOf(InputError);
  });

  test('with a changed decal is refused', async () => {
    const entries = unzipSync(demoBytes('ebbline.livery'));
    const name = Object.keys(entries).find((n) => n.startsWith('blobs/'))!;
    entries[name] = entries[name].map((b, i) => (i === 40 ? b ^ 1 : b));
    await expect(readBundle(zipSync(entries))).rejects.toThrow(/is damaged/);
  });

  test('without a font that it letters with is refused by name', async () => {
    const entries = unzipSync(demoBytes('ebbline.livery'));
    const name = Object.keys(entries).find((n) => n.startsWith('fonts/'))!;
    delete entries[name];
    await expect(readBundle(zipSync(entries))).rejects.toThrow(/font "[a-z-]+" is missing/);
  });

  test('never writes outside its names: a path that climbs is passed over', async () => {
    const entries = unzipSync(demoBytes('ebbline.livery'));
    const bundle = await readBundle(zipSync({ ...entries, '../evil.txt': strToU8('x') }));
    expect(findLayer(bundle.livery, layersIn(bundle.livery)[0].id)).not.toBeNull();
  });
});

describe('SVG', () => {
  const drawing = (inside: string) => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">${inside}</svg>`;

  test('is kept as a drawing, with its flat colours', () => {
    const facts = readSvg(drawing('<rect width="40" height="20" fill="#F00"/><circle r="3" fill="#00ff7F"/>'));
    expect(facts.ratio).toBe(2);
    expect(facts.colours).toEqual(['#ff0000', '#00ff7f']);
  });

  test('is drawn at the size asked for, straight alpha', () => {
    const image = drawSvg(
      drawing(
        '<rect width="20" height="20" fill="#ff0000"/><rect x="20" width="20" height="20" fill="#0000ff" fill-opacity="0.5"/>',
      ),
      80,
    );
    expect([image.width, image.height]).toEqual([80, 40]);
    expect([...image.data.subarray(0, 4)]).toEqual([255, 0, 0, 255]);
    const right = image.data.subarray(60 * 4, 60 * 4 + 4);
    expect(right[2]).toBeGreaterThan(250);
    expect(Math.abs(right[3] - 128)).toBeLessThanOrEqual(1);
  });

  test.each([
    ['a script', '<script>alert(1)</script>', /script/],
    ['a handler', '<rect onload="x()"/>', /script/],
    ['an outside picture', '<image href="http://example.org/a.png"/>', /outside itself/],
    ['an outside style', '<rect style="fill:url(http://example.org/a)"/>', /outside itself/],
    ['a web page', '<foreignObject/>', /web page/],
    ['live text', '<text>7</text>', /outlines/],
  ])('with %s is refused', (_what, inside, sentence) => {
    expect(() => readSvg(drawing(inside))).toThrow(sentence);
  });

  test('with entities, cut off, or of another kind is refused', () => {
    expect(() => readSvg(`<!DOCTYPE svg [<!ENTITY a "b">]>${drawing('&a;')}`)).toThrow(/entities/);
    expect(() => readSvg(drawing('<rect/>').slice(0, 60))).toThrow(/cannot be read/);
    expect(() => readSvg('<html></html>')).toThrow(/not an SVG/);
  });
});

describe('stored pixels', () => {
  const image = picture(5, 3, (x, y) => [x, y, 200, 255 - x]);

  test('come back', () => {
    expect(unpackPixels(packPixels(image))).toEqual(image);
  });

  test('that are cut off, of another kind, or too large are refused', () => {
    const bytes = packPixels(image);
    expect(() => unpackPixels(bytes.subarray(0, 8))).toThrow(/not a stored picture/);
    expect(() => unpackPixels(strToU8('something else'))).toThrow(/not a stored picture/);
    const huge = bytes.slice();
    new DataView(huge.buffer).setUint32(4, 900_000, true);
    expect(() => unpackPixels(huge)).toThrow(/cannot be 900000 x 3/);
  });
});

describe('models', () => {
  test('the demo’s GLB and OBJ are the same model', async () => {
    const glb = await readGltf(demoBytes('turnstone.glb'));
    const obj = readObj(demoBytes('turnstone.obj'));
    expect(glb.mesh.indices.length).toBe(obj.mesh.indices.length);
    expect(glb.groups.map((g) => [g.material, g.count])).toEqual(obj.groups.map((g) => [g.material, g.count]));
    const corner = (m: typeof glb, k: number) => {
      const i = m.mesh.indices[k];
      return [...m.mesh.positions.slice(i * 3, i * 3 + 3), ...m.mesh.uvs.slice(i * 2, i * 2 + 2)];
    };
    for (let k = 0; k < glb.mesh.indices.length; k += 97)
      corner(glb, k).forEach((v, c) => expect(corner(obj, k)[c]).toBeCloseTo(v, 4));
  });

  test('damaged and empty models are refused', async () => {
    await expect(readGltf(demoBytes('turnstone.glb').subarray(0, 5000))).rejects.toThrow(/cut off/);
    expect(() => readObj(strToU8('# nothing\n'))).toThrow(/no mesh/);
  });
});

test('ImageMagick is there for the tests that need it', () => {
  expect(readWithImageMagick(strToU8('P6 1 1 255\n\u0001\u0002\u0003'), 'ppm', 1, 1).data[2]).toBe(3);
});

describe('drawings as programs write them', () => {
  const root = (attributes: string, inside = '<rect width="10" height="10" fill="#C03"/>') =>
    `<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inside}</svg>`;

  test.each([
    // CSS Values and Units Level 3, 6.2: an inch is 96 pixels, 25.4 mm, 72 points, 6 picas.
    ['width="1in" height="0.5in" viewBox="0 0 20 10"', 96, 48],
    ['width="25.4mm" height="50.8mm" viewBox="0 0 1 2"', 96, 192],
    ['width="72pt" height="6pc" viewBox="0 0 1 1"', 96, 96],
    ['width="300" height="150"', 300, 150],
    // Without a size the view box is the size (SVG 2, 8.2 and 7.2).
    ['viewBox="0 0 40 30"', 40, 30],
    ['viewBox="-20 -15 40 30"', 40, 30],
    ['width="80" viewBox="0 0 40 20"', 80, 40],
    ['height="1in" viewBox="0 0 40 20"', 192, 96],
    ['width="60" height="100%" viewBox="0 0 10 20"', 60, 120],
  ])('a drawing of %s is %d x %d', (attributes, width, height) => {
    const { ratio, ...facts } = readSvg(root(attributes));
    expect(facts).toMatchObject({ width, height });
    expect(ratio).toBeCloseTo(width / height, 3);
  });

  test('classes, symbols in use, gradients and clips are drawn; short colours are told', () => {
    const drawing = root(
      'viewBox="0 0 40 40"',
      `<style>.a{fill:#0f0}.b{fill:#00F;}</style>
       <defs>
         <g id="half"><rect class="a" width="20" height="20"/></g>
         <linearGradient id="fade"><stop offset="0" stop-color="#000"/><stop offset="1" stop-color="#fff"/></linearGradient>
         <clipPath id="round"><rect x="20" y="20" width="10" height="20"/></clipPath>
       </defs>
       <use href="#half"/>
       <rect class="b" x="20" width="20" height="20"/>
       <rect y="20" width="20" height="20" fill="url(#fade)"/>
       <rect x="20" y="20" width="20" height="20" fill="#ff0000" clip-path="url(#round)"/>`,
    );
    expect(readSvg(drawing).colours).toEqual(['#00ff00', '#0000ff', '#000000', '#ffffff', '#ff0000']);
    const { data } = drawSvg(readSvg(drawing).text, 40);
    const at = (x: number, y: number) => [...data.subarray((y * 40 + x) * 4, (y * 40 + x) * 4 + 4)];
    expect(at(10, 10)).toEqual([0, 255, 0, 255]);
    expect(at(30, 10)).toEqual([0, 0, 255, 255]);
    expect(at(2, 30)[0]).toBeLessThan(60);
    expect(at(18, 30)[0]).toBeGreaterThan(200);
    expect(at(25, 30)).toEqual([255, 0, 0, 255]);
    expect(at(35, 30)[3]).toBe(0);
  });
});
