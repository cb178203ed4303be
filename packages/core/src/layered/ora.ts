/** OpenRaster 0.0.6: a zip with stack.xml and a PNG for every layer (OpenRaster specification, "File Layout" and "Layer Stack"). */
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { InputError } from '../errors.ts';
import { BLEND_MODES, W3C_MODES, type BlendMode } from '../livery/layer.ts';
import type { Image8 } from '../raster/image.ts';
import { openZip } from '../files/zip.ts';
import { MAX_SIDE } from '../texture/dds.ts';
import { MAX_TEXELS, type LayeredFile, type LayeredNode, type Loss } from './layered.ts';

/** Decodes a PNG to straight RGBA8, sRGB. @throws InputError */
export type ReadPng = (bytes: Uint8Array) => Promise<Image8>;

/** `composite-op` values (OpenRaster specification, "Blending modes"); the further ones are written by several programs. */
const MODES: Readonly<Record<string, BlendMode>> = {
  'svg:src-over': 'normal',
  ...Object.fromEntries(W3C_MODES.map((mode) => [`svg:${mode}`, mode])),
  'svg:plus': 'linear-dodge',
};

type Attributes = Record<string, string | undefined>;
interface XmlNode {
  ':@'?: Attributes;
  stack?: XmlNode[];
  layer?: XmlNode[];
  image?: XmlNode[];
}

/**
 * Reads an OpenRaster file. @param each called with the share of layers read, 0..1; an error that it throws ends the work
 * @throws InputError in one sentence
 */
export async function readOra(
  bytes: Uint8Array,
  readPng: ReadPng,
  each?: (done: number) => void,
): Promise<LayeredFile> {
  const zip = openZip(bytes);
  const xml = zip.read('stack.xml');
  if (!xml) throw new InputError('This OpenRaster file has no stack.xml.');
  const text = new TextDecoder().decode(xml);
  if (/<!ENTITY|<!DOCTYPE/i.test(text) || XMLValidator.validate(text) !== true)
    throw new InputError('The stack.xml of this OpenRaster file is damaged.');
  const parser = new XMLParser({ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '' });
  const root = (parser.parse(text) as XmlNode[]).find((node) => node.image);
  const width = Number(root?.[':@']?.w);
  const height = Number(root?.[':@']?.h);
  if (!root || !Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1)
    throw new InputError('The stack.xml of this OpenRaster file does not say how large the picture is.');
  if (width > MAX_SIDE || height > MAX_SIDE)
    throw new InputError(`This file is ${width} x ${height}; at most ${MAX_SIDE} on a side can be opened.`);

  const losses: Loss[] = [];
  const total = Math.max(1, (text.match(/<layer[\s/>]/g) ?? []).length);
  let read = 0;
  let texels = 0;
  const nodesOf = async (list: readonly XmlNode[]): Promise<LayeredNode[]> => {
    const out: LayeredNode[] = [];
    for (const node of list) {
      const children = node.stack ?? node.layer;
      if (!children) continue;
      const at = node[':@'] ?? {};
      const name = at.name ?? '';
      const operation = at['composite-op'] ?? 'svg:src-over';
      const known = MODES[operation] ?? BLEND_MODES.find((mode) => operation.endsWith(`:${mode}`));
      if (!known) losses.push({ layer: name, what: `The mixing "${operation}" is drawn as normal.` });
      const base = {
        name,
        id: null,
        hidden: at.visibility === 'hidden',
        opacity: numberOf(at.opacity, 1, 0, 1),
        blend: known ?? 'normal',
        clipped: false,
        mask: null,
        label: null,
      };
      if (node.stack) {
        out.push({
          ...base,
          kind: 'group',
          // "auto" asks for no isolation, unless opacity or mixing makes it necessary (OpenRaster specification, "stack").
          passThrough: at.isolation === 'auto' && base.opacity === 1 && base.blend === 'normal',
          nodes: await nodesOf(children),
        });
        continue;
      }
      const source = at.src ? zip.read(at.src) : null;
      if (!source) throw new InputError(`The picture of the layer "${name}" is missing from this OpenRaster file.`);
      const image = await readPng(source);
      texels += image.width * image.height;
      if (texels > MAX_TEXELS) throw new InputError('The layers of this file hold more than 600 million texels.');
      out.push({
        ...base,
        kind: 'layer',
        x: Math.round(numberOf(at.x, 0, -1e6, 1e6)),
        y: Math.round(numberOf(at.y, 0, -1e6, 1e6)),
        image,
        content: 'pixels',
      });
      each?.(++read / total);
    }
    // The file lists what is on top first.
    return out.reverse();
  };
  const top = root.image?.find((node) => node.stack)?.stack ?? [];
  const nodes = await nodesOf(top);
  const merged = zip.read('mergedimage.png');
  return { kind: 'ora', width, height, depth: 8, nodes, merged: merged ? await readPng(merged) : null, losses };
}

function numberOf(text: string | undefined, otherwise: number, low: number, high: number): number {
  const value = text === undefined ? otherwise : Number(text);
  return Number.isFinite(value) ? Math.min(high, Math.max(low, value)) : otherwise;
}
