/** Writes drawn layers as PSD (through ag-psd) and as OpenRaster 0.0.6 (a zip in the order that its specification asks for). */
import { writePsdUint8Array, type Layer as PsdLayer } from 'ag-psd';
import { strToU8, zipSync, type Zippable } from 'fflate';
import { XMLBuilder } from 'fast-xml-parser';
import './withoutCanvas.ts';
import { ZIP_TIME } from '../files/archive.ts';
import { W3C_MODES } from '../livery/layer.ts';
import type { Image8 } from '../raster/image.ts';
import type { DrawnLayer } from './sheetLayers.ts';

const clamped = ({ width, height, data }: Image8) => ({ width, height, data: new Uint8ClampedArray(data) });

/** @param merged the sheet as it is painted, kept in the file for those who do not read layers */
export function writePsd(layers: readonly DrawnLayer[], merged: Image8): Uint8Array {
  const children = layers.map((layer): PsdLayer => ({
    name: layer.name,
    id: layer.number,
    left: layer.left,
    top: layer.top,
    hidden: layer.hidden,
    opacity: layer.opacity,
    blendMode: layer.blend.replaceAll('-', ' ') as PsdLayer['blendMode'],
    imageData: clamped(layer.image),
  }));
  const { width, height } = merged;
  return writePsdUint8Array(
    { width, height, children, imageData: clamped(merged) },
    { generateThumbnail: false, noBackground: true },
  );
}

/** @param png encodes straight RGBA8 as PNG @param small the sheet at 256 pixels at most, which the format asks for */
export async function writeOra(
  layers: readonly DrawnLayer[],
  merged: Image8,
  small: Uint8Array,
  png: (image: Image8) => Promise<Uint8Array>,
): Promise<Uint8Array> {
  const files: Zippable = { mimetype: [strToU8('image/openraster'), { level: 0 }] };
  const entries = await Promise.all(
    layers.map(async (layer, i) => {
      const src = `data/${String(i + 1).padStart(3, '0')}.png`;
      files[src] = [await png(layer.image), { level: 0 }];
      const known = (W3C_MODES as readonly string[]).includes(layer.blend);
      const operation =
        layer.blend === 'normal'
          ? 'src-over'
          : layer.blend === 'linear-dodge'
            ? 'plus'
            : known
              ? layer.blend
              : 'src-over';
      return {
        '@name': layer.name,
        '@src': src,
        '@x': layer.left,
        '@y': layer.top,
        '@opacity': layer.opacity,
        '@visibility': layer.hidden ? 'hidden' : 'visible',
        '@composite-op': `svg:${operation}`,
      };
    }),
  );
  const xml = new XMLBuilder({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    format: true,
    suppressEmptyNode: true,
  });
  const image = { '@version': '0.0.6', '@w': merged.width, '@h': merged.height, stack: { layer: entries.reverse() } };
  files['stack.xml'] = strToU8(`<?xml version="1.0" encoding="UTF-8"?>\n${xml.build({ image })}`);
  files['mergedimage.png'] = [await png(merged), { level: 0 }];
  files['Thumbnails/thumbnail.png'] = [small, { level: 0 }];
  return zipSync(files, { mtime: ZIP_TIME });
}
