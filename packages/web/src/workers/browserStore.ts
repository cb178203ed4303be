import wasm from '@resvg/resvg-wasm/index_bg.wasm?url';
import { SourceStore } from '@wet-lacquer/core/compose/sources.ts';
import { unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import { drawSvg, startSvg } from '@wet-lacquer/core/files/svg.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { floatsIn } from '@wet-lacquer/core/bytes.ts';
import { strokeBytes, unsentPixels } from '../easel/pixels.ts';
import { getBytes } from '../lib/api.ts';

/** What liveries of a template are drawn from, fetched from the server when first needed. */
export function browserStore(template: Template): SourceStore {
  return new SourceStore(template, {
    // What this window has not sent yet is in the browser's own database.
    blob: async (hash) => (await unsentPixels(hash)) ?? getBytes(`/blobs/${hash}`),
    strokes: strokeBytes,
    font: (key, hash) => getBytes(hash ? `/fonts/${key}?hash=${hash}` : `/fonts/${key}`),
    drawSvg: async (svg, side) => {
      await startSvg(() => fetch(wasm));
      return drawSvg(svg, side);
    },
    unpackPixels,
    field: async (name, hash) => floatsIn(await getBytes(`/templates/${hash}/fields/${name}`)),
  });
}
