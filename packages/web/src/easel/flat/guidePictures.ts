/** Guides that are pictures, ready to be drawn: those that came with the template, and the ghost of its original. */
import { useEffect, useState } from 'react';
import { unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { context2d } from '../../parts/context2d.ts';
import { getBytes } from '../../lib/api.ts';
import { ownGuide, type GuideKey } from '../session.ts';

/** A guide's shape in white and in black: drawn over one another, one of them shows on any paint. */
export interface GuideShape {
  light: OffscreenCanvas;
  dark: OffscreenCanvas;
}

export interface GuidePictures {
  shapes: ReadonlyMap<string, GuideShape>;
  /** What a new livery begins with, by sheet. */
  ghosts: ReadonlyMap<string, ImageBitmap>;
}

export const NO_PICTURES: GuidePictures = { shapes: new Map(), ghosts: new Map() };

/** Loads what the chosen guides of a sheet need; what is not here yet comes a moment later. */
export function useGuidePictures(
  template: Template,
  hash: string,
  sheet: string,
  guides: ReadonlySet<GuideKey>,
): GuidePictures {
  const [pictures, setPictures] = useState(NO_PICTURES);
  useEffect(() => {
    let wanted = true;
    for (const guide of template.guides ?? []) {
      if (guide.sheet !== sheet || !guides.has(ownGuide(guide.key)) || pictures.shapes.has(guide.key)) continue;
      void getBytes(`/blobs/${guide.blob}`)
        .then((bytes) => shapeOf(bytes))
        .then((shape) => {
          if (wanted) setPictures((p) => ({ ...p, shapes: new Map(p.shapes).set(guide.key, shape) }));
        })
        .catch(() => {});
    }
    if (guides.has('ghost') && !pictures.ghosts.has(sheet)) {
      void getBytes(`/templates/${hash}/sheets/${sheet}`)
        .then((bytes) => createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/png' })))
        .then((ghost) => {
          if (wanted) setPictures((p) => ({ ...p, ghosts: new Map(p.ghosts).set(sheet, ghost) }));
        })
        .catch(() => {});
    }
    return () => {
      wanted = false;
    };
  }, [template, hash, sheet, guides, pictures]);
  return pictures;
}

function shapeOf(bytes: Uint8Array): GuideShape {
  const { width, height, data } = unpackPixels(bytes);
  const tinted = (tone: number) => {
    const pixels = new ImageData(width, height);
    for (let i = 0; i < data.length; i += 4) {
      pixels.data.fill(tone, i, i + 3);
      pixels.data[i + 3] = data[i + 3];
    }
    const canvas = new OffscreenCanvas(width, height);
    context2d(canvas).putImageData(pixels, 0, 0);
    return canvas;
  };
  return { light: tinted(255), dark: tinted(0) };
}
