/** PSD and PSB through ag-psd: decoded layer by layer, so that the packed file and the finished layers are all that is held. */
import { decodeLayerPixels, getCompositeImageData, readPsd as parse } from 'ag-psd';
import type { Layer, LayerMaskData, PixelData, Psd } from 'ag-psd';
import './withoutCanvas.ts';
import { InputError } from '../errors.ts';
import { psd as psdFile } from '../kinds/psd.ts';
import { BLEND_MODES, type BlendMode } from '../livery/layer.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { MAX_SIDE } from '../texture/dds.ts';
import { MAX_TEXELS, type LayeredFile, type LayeredMask, type LayeredNode, type Loss } from './layered.ts';

const RGB = 3;
const GREY = 1;
const COLOUR_MODES: Readonly<Record<number, string>> = {
  0: 'bitmap',
  2: 'indexed colour',
  4: 'CMYK',
  7: 'multichannel',
  8: 'duotone',
  9: 'Lab',
};
/** Modes in which the fill's opacity acts before the mixing, otherwise than the layer's (common practice, no source). */
const FILL_MODES: readonly BlendMode[] = [
  'color-burn',
  'linear-burn',
  'color-dodge',
  'linear-dodge',
  'vivid-light',
  'linear-light',
  'difference',
];

export interface PsdReading {
  /** Called with the share of layers read, 0..1; an error that it throws ends the work. */
  each?: (done: number) => void;
  /** Decodes only every `of`-th layer, from the `index`-th on, and the merged picture in the first part; see joinParts. */
  part?: { index: number; of: number };
  /** Where pixels go; shared memory, when several threads work on them. */
  bytes?: (length: number) => Uint8Array;
}

/**
 * Reads a PSD or PSB file of 8, 16 or 32 bits in RGB or grey.
 * @throws InputError in one sentence
 */
export function readPsd(bytes: Uint8Array, reading: PsdReading = {}): LayeredFile {
  const { each, part = { index: 0, of: 1 }, bytes: room = (length: number) => new Uint8Array(length) } = reading;
  const head = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (!psdFile.begins(bytes)) throw new InputError('This is not a PSD file, or it is cut off.');
  // The published description of the format, "File Header Section": version, channels, rows, columns, depth, mode.
  const version = head.getUint16(4);
  const height = head.getUint32(14);
  const width = head.getUint32(18);
  const depth = head.getUint16(22);
  const mode = head.getUint16(24);
  if (version !== 1 && version !== 2) throw new InputError(`PSD files of version ${version} are not known.`);
  if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE)
    throw new InputError(`This file is ${width} x ${height}; at most ${MAX_SIDE} on a side can be opened.`);
  if (mode !== RGB && mode !== GREY)
    throw new InputError(`This file is in ${COLOUR_MODES[mode] ?? `colour mode ${mode}`}; save it in RGB.`);
  if (depth !== 8 && depth !== 16 && depth !== 32)
    throw new InputError(`This file has ${depth} bits a channel; 8, 16 and 32 can be opened.`);

  const psd = guarded(() =>
    parse(withKeysTurned(bytes), {
      useRawData: true,
      useImageData: true,
      skipThumbnail: true,
      skipLinkedFilesData: true,
    }),
  );
  const losses: Loss[] = [];
  const count = layersIn(psd.children ?? []);
  let done = 0;
  let texels = 0;
  let order = 0;
  const read = (layer: Layer): LayeredNode => {
    texels += Math.max(0, (layer.right ?? 0) - (layer.left ?? 0)) * Math.max(0, (layer.bottom ?? 0) - (layer.top ?? 0));
    if (texels > MAX_TEXELS) throw new InputError('The layers of this file hold more than 600 million texels.');
    const mine = order++ % part.of === part.index;
    if (mine) guarded(() => decodeLayerPixels(layer, true));
    const node = nodeOf(layer, width, height, mine ? losses : null, room, () => (layer.children ?? []).map(read));
    layer.rawData = layer.imageData = layer.mask = undefined;
    each?.(++done / Math.max(1, count));
    return node;
  };
  const nodes = (psd.children ?? []).map(read);
  const composite = part.index === 0 ? guarded(() => getCompositeImageData(psd)) : undefined;
  const merged = composite ? pixels8(composite, hasAlpha(psd, nodes), room) : null;
  if (nodes.length === 0 && merged) {
    nodes.push({
      ...{ kind: 'layer', name: 'Background', id: null, hidden: false, opacity: 1, blend: 'normal', clipped: false },
      ...{ mask: null, label: null, x: 0, y: 0, image: merged, content: 'pixels' },
    } as LayeredNode);
  }
  // A writer that keeps no merged picture leaves it empty.
  const empty = !merged || (texels > 0 && isBlank(merged));
  return { kind: version === 2 ? 'psb' : 'psd', width, height, depth, nodes, merged: empty ? null : merged, losses };
}

const BLEND_KEYS =
  'norm,diss,dark,mul ,idiv,lbrn,dkCl,lite,scrn,div ,lddg,lgCl,over,sLit,hLit,vLit,lLit,pLit,hMix,diff,smud,fsub,fdiv,hue ,sat ,colr,lum ,pass';

/** Some writers put the four letters of a blend mode down from the last to the first; the library refuses those files. */
function withKeysTurned(bytes: Uint8Array): Uint8Array {
  const turned = new Map(BLEND_KEYS.split(',').map((key) => [[...key].reverse().join(''), key]));
  let out: Uint8Array | null = null;
  for (let at = bytes.indexOf(0x38); at >= 0 && at + 8 <= bytes.length; at = bytes.indexOf(0x38, at + 1)) {
    if (bytes[at + 1] !== 0x42 || bytes[at + 2] !== 0x49 || bytes[at + 3] !== 0x4d) continue;
    const key = turned.get(String.fromCharCode(...bytes.subarray(at + 4, at + 8)));
    if (!key) continue;
    out ??= bytes.slice();
    for (let k = 0; k < 4; k++) out[at + 4 + k] = key.charCodeAt(k);
  }
  return out ?? bytes;
}

function guarded<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError('This PSD file is damaged or cut off.');
  }
}

const layersIn = (layers: readonly Layer[]): number =>
  layers.reduce((n, layer) => n + 1 + layersIn(layer.children ?? []), 0);

function nodeOf(
  layer: Layer,
  width: number,
  height: number,
  losses: Loss[] | null,
  room: (length: number) => Uint8Array,
  children: () => LayeredNode[],
): LayeredNode {
  const name = layer.name ?? '';
  const lose = (what: string) => losses?.push({ layer: name, what });
  const passThrough = layer.blendMode === 'pass through';
  const blend = blendOf(layer.blendMode, lose);
  const fill = layer.fillOpacity ?? 1;
  if (fill < 1 && FILL_MODES.includes(blend))
    lose('Its fill opacity is taken as plain opacity, which looks different in this mode.');
  const effects = Object.entries(layer.effects ?? {}).filter(
    ([key, value]) => key !== 'disabled' && key !== 'scale' && on(value),
  );
  if (effects.length > 0 && !layer.effects?.disabled)
    lose(`Its effects are left out: ${effects.map(([key]) => words(key)).join(', ')}.`);
  const base = {
    name,
    id: layer.id === undefined ? null : String(layer.id),
    hidden: layer.hidden ?? false,
    opacity: Math.min(1, Math.max(0, (layer.opacity ?? 1) * fill)),
    blend,
    clipped: layer.clipping ?? false,
    mask: maskOf(layer.mask, lose, room),
    label: layer.layerColor && layer.layerColor !== 'none' ? layer.layerColor : null,
  };
  if (layer.children) return { ...base, kind: 'group', passThrough, nodes: children() };

  if (layer.adjustment) lose(`Its adjustment (${words(layer.adjustment.type)}) is left out.`);
  if (layer.vectorMask && !layer.mask && !layer.vectorFill && !layer.vectorMask.disable)
    lose('Its outline mask is left out; turn it into pixels to keep it.');
  let image = layer.imageData ? pixels8(layer.imageData, true, room) : null;
  let [x, y] = [layer.left ?? 0, layer.top ?? 0];
  if (!image && layer.vectorFill && losses) {
    if (layer.vectorFill.type === 'color') {
      image = filled(layer.vectorFill.color as { r?: number; g?: number; b?: number }, width, height);
      [x, y] = [0, 0];
    } else lose('Its fill (a gradient or pattern) holds no pixels and is left out; turn it into pixels to keep it.');
  }
  const content = layer.text
    ? 'text'
    : layer.placedLayer
      ? 'placed'
      : layer.vectorFill
        ? layer.vectorMask
          ? 'shape'
          : 'fill'
        : 'pixels';
  return { ...base, kind: 'layer', x, y, image, content };
}

const on = (effect: unknown) =>
  (Array.isArray(effect) ? effect : [effect]).some(
    (e) => e && typeof e === 'object' && (e as { enabled?: boolean }).enabled !== false,
  );
const words = (key: string) => key.replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`).trim();

function blendOf(name: Layer['blendMode'], lose: (what: string) => void): BlendMode {
  if (!name || name === 'pass through') return 'normal';
  const key = name.replaceAll(' ', '-') as BlendMode;
  if (BLEND_MODES.includes(key)) return key;
  lose(`The mixing "${name}" is drawn as ${name === 'hard mix' ? 'vivid light' : 'normal'}.`);
  return name === 'hard mix' ? 'vivid-light' : 'normal';
}

function maskOf(
  mask: LayerMaskData | undefined,
  lose: (what: string) => void,
  room: (length: number) => Uint8Array,
): LayeredMask | null {
  if (!mask) return null;
  if ((mask.userMaskFeather ?? 0) > 0 || (mask.vectorMaskFeather ?? 0) > 0)
    lose('The feather of its mask is left out; the mask is kept with its hard edge.');
  const picture = mask.imageData;
  const data = room(picture ? picture.width * picture.height : 0);
  if (picture) for (let i = 0; i < data.length; i++) data[i] = to8(picture.data, i * 4);
  return {
    x: mask.left ?? 0,
    y: mask.top ?? 0,
    width: picture?.width ?? 0,
    height: picture?.height ?? 0,
    data,
    outside: mask.defaultColor ?? 255,
    disabled: mask.disabled ?? false,
    density: (mask.fromVectorData ? mask.vectorMaskDensity : mask.userMaskDensity) ?? 1,
  };
}

function to8(data: PixelData['data'], i: number): number {
  if (data instanceof Uint16Array) return ((data[i] + 128) / 257) | 0;
  // 32-bit files hold linear light, 0..1 (common practice, no source).
  if (data instanceof Float32Array) return encode(data[i]);
  return data[i];
}

const encode = (v: number) => {
  const c = Math.min(1, Math.max(0, v));
  return Math.round(255 * (c <= 0.0031308 ? 12.92 * c : 1.055 * c ** (1 / 2.4) - 0.055));
};

function pixels8({ width, height, data }: PixelData, alpha: boolean, room: (length: number) => Uint8Array): Image8 {
  const out = { width, height, data: room(width * height * 4) };
  if (data instanceof Uint8ClampedArray || data instanceof Uint8Array) out.data.set(data);
  else {
    for (let i = 0; i < out.data.length; i++)
      out.data[i] = data instanceof Float32Array && (i & 3) === 3 ? Math.round(data[i] * 255) : to8(data, i);
  }
  if (!alpha) for (let i = 3; i < out.data.length; i += 4) out.data[i] = 255;
  return out;
}

/** A fourth channel is the merged picture's alpha only where the layers leave something clear. */
function hasAlpha(psd: Psd, nodes: readonly LayeredNode[]): boolean {
  return (psd.channels ?? 3) > 3 || nodes.length === 0;
}

/** Clear, white or black throughout: nothing was merged. */
function isBlank({ data }: Image8): boolean {
  const texels = new Uint32Array(data.buffer, data.byteOffset, data.byteLength >> 2);
  const [first] = texels;
  if (first >>> 24 !== 0 && first !== 0xffffffff && first !== 0xff000000) return false;
  for (let i = 1; i < texels.length; i++) if (texels[i] !== first) return false;
  return true;
}

function filled(
  { r = 0, g = 0, b = 0 }: { r?: number; g?: number; b?: number },
  width: number,
  height: number,
): Image8 {
  const image = newImage(width, height);
  new Uint32Array(image.data.buffer).fill((255 << 24) | (Math.round(b) << 16) | (Math.round(g) << 8) | Math.round(r));
  return image;
}
