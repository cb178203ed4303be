/** How art lies to the frames and colliders of its sheet, in shares of it. */
import { renderRegion, type Sources } from '../compose/renderTile.ts';
import { boxesOf } from '../livery/boxes.ts';
import type { Livery } from '../livery/livery.ts';
import { sheetNamed, type Template, type TemplateOutline } from '../livery/template.ts';
import { nearestInside } from '../raster/nearest.ts';
import { fillCoverage } from '../shapes/coverage.ts';

export interface OutlineCover {
  /** Share of the sheet's art (by alpha) that lies outside every safe frame, 0..1; null: it has no frames, or no art. */
  outside: number | null;
  frames: {
    key: string;
    name: string;
    /** Share of the frame that art covers. */
    covered: number;
    /** Share of the art that belongs to it (of all frames it is the nearest) that lies outside it; null: no art is there. */
    outside: number | null;
  }[];
  colliders: {
    key: string;
    name: string;
    /** Share of the collider that art covers. */
    covered: number;
    /** Share of the art in the collider's own frame that lies outside the collider; null: no frame holds it, or no art is there. */
    beyond: number | null;
  }[];
}

/** Texels a sample stands for; a sheet of 1024 is looked at through 512 x 512 samples. */
const stepFor = (width: number, height: number) => Math.max(1, Math.ceil(Math.max(width, height) / 512));

/** Measures one sheet as it is painted; parameter boxes are no art. */
export function outlineCover(livery: Livery, template: Template, sheetKey: string, sources: Sources): OutlineCover {
  const sheet = sheetNamed(template, sheetKey);
  const outlines = (template.outlines ?? []).filter((outline) => outline.sheet === sheetKey);
  if (outlines.length === 0) return { outside: null, frames: [], colliders: [] };
  const step = stepFor(sheet.width, sheet.height);
  const [width, height] = [Math.ceil(sheet.width / step), Math.ceil(sheet.height / step)];
  const picture = renderRegion(livery, sheetKey, 'colour', { x: 0, y: 0, width, height, step }, sources);
  const alpha = Float64Array.from({ length: width * height }, (_, i) => picture[i * 4 + 3] / 65535);
  for (const { left, top, width: w, height: h } of boxesOf(livery, template, sheetKey))
    for (let y = Math.floor(top / step); y < Math.min(height, (top + h) / step); y++)
      alpha.fill(0, y * width + Math.floor(left / step), y * width + Math.min(width, Math.ceil((left + w) / step)));
  const shapeOf = ({ rings }: TemplateOutline) => {
    const contours = rings.map((ring) => Float64Array.from(ring, (v) => v / step));
    return fillCoverage(contours, width, height);
  };
  const framed = outlines.filter((outline) => outline.role === 'frame');
  const frames = framed.map(shapeOf);
  const within = (shape: Float64Array) => shape.reduce((sum, share, i) => sum + share * alpha[i], 0);
  const all = alpha.reduce((sum, a) => sum + a, 0);
  const anyFrame = new Float64Array(width * height);
  for (const frame of frames) frame.forEach((share, i) => (anyFrame[i] = Math.max(anyFrame[i], share)));
  const inside = within(anyFrame);
  const home = nearestOf(frames, width, height);
  const art = frames.map(() => 0);
  alpha.forEach((a, i) => (art[home[i]] += a));
  const perFrame = framed.map(({ key, name }, k) => {
    const area = frames[k].reduce((sum, share) => sum + share, 0);
    const kept = frames[k].reduce((sum, share, i) => sum + (home[i] === k ? share * alpha[i] : 0), 0);
    const covered = area > 0 ? within(frames[k]) / area : 0;
    return { key, name, covered, outside: art[k] > 0 ? Math.max(0, 1 - kept / art[k]) : null };
  });
  const colliders = outlines
    .filter((outline) => outline.role === 'collider')
    .map((outline) => {
      const shape = shapeOf(outline);
      const area = shape.reduce((sum, share) => sum + share, 0);
      // Its frame is the smallest one that holds nearly all of it.
      const holding = frames
        .filter((frame) => shape.reduce((sum, share, i) => sum + share * frame[i], 0) > area * 0.9)
        .map((frame) => ({ frame, area: frame.reduce((sum, share) => sum + share, 0) }))
        .sort((a, b) => a.area - b.area)[0];
      const there = holding ? within(holding.frame) : 0;
      const beyond =
        there > 0 ? holding.frame.reduce((sum, f, i) => sum + alpha[i] * Math.max(0, f - shape[i]), 0) / there : null;
      return { key: outline.key, name: outline.name, covered: area > 0 ? within(shape) / area : 0, beyond };
    });
  return {
    outside: frames.length > 0 && all > 0 ? Math.max(0, 1 - inside / all) : null,
    frames: perFrame,
    colliders,
  };
}

/** For each sample the frame that it lies in, else the nearest one; of nested frames the last. Without frames all 0. */
function nearestOf(frames: readonly Float64Array[], width: number, height: number): Uint16Array {
  const home = new Uint16Array(width * height);
  const inside = new Uint8Array(width * height);
  frames.forEach((frame, k) =>
    frame.forEach((share, i) => {
      if (share < 0.5) return;
      inside[i] = 1;
      home[i] = k;
    }),
  );
  if (frames.length === 0) return home;
  const nearest = nearestInside(inside, width, height);
  return home.map((own, i) => (inside[i] || nearest[i] < 0 ? own : home[nearest[i]]));
}
