/** Guides are drawn on a canvas of their own above the art: two tones, so that they show on any paint. They are in no layer and no file. */
import { silhouettes, uvLines } from '@wet-lacquer/core/surface/guides.ts';
import { placesOf, type Place } from '@wet-lacquer/core/surface/places.ts';
import { sheetNamed, type Template, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { axisPath, boxPath, cellsPath, ringsPath, GUIDE_TONES } from '../../parts/guideShapes.ts';
import { labelSize, outlineOf } from '../../parts/islandPaths.ts';
import { planeOn } from '../../parts/planeOn.ts';
import { ownGuide, type GuideKey } from '../session.ts';
import type { GuidePictures } from './guidePictures.ts';
import { toScreen, type Look } from './view.ts';
import { ART } from '../../theme.ts';

interface Drawn {
  wire: Path2D;
  seams: Path2D;
  /** Where the model's plane of symmetry cuts it. */
  plane: Path2D;
  /** The sheet without its islands, to be filled by the even-odd rule; traced when it is first wanted. */
  beside?: Path2D;
  places: readonly Place[];
}

const drawn = new WeakMap<Template, Map<string, Drawn>>();

function pathsOf(template: Template, sheet: string): Drawn {
  const known = drawn.get(template) ?? new Map<string, Drawn>();
  drawn.set(template, known);
  const found = known.get(sheet);
  if (found) return found;
  // A board stands for a model that nobody has: its edges say nothing.
  const { wire, seams } = template.boards ? { wire: [], seams: [] } : uvLines(template, sheet);
  const pathOf = (lines: ArrayLike<number>) => {
    const path = new Path2D();
    for (let i = 0; i < lines.length; i += 4) {
      path.moveTo(lines[i], lines[i + 1]);
      path.lineTo(lines[i + 2], lines[i + 3]);
    }
    return path;
  };
  const made = {
    wire: pathOf(wire),
    seams: pathOf(seams),
    plane: pathOf(planeOn(template, sheet).trace),
    places: placesOf(template, sheet).filter(({ named }) => named),
  };
  known.set(sheet, made);
  return made;
}

function besideOf(template: Template, sheetKey: string): Path2D {
  const { width, height } = sheetNamed(template, sheetKey);
  const whole = boxPath({ left: 0, top: 0, width, height });
  return new Path2D(whole + ringsPath(silhouettes(template, sheetKey)));
}

/** Line and casing, at least 3:1 apart (WCAG 2.2, 1.4.11): one of them shows on any art. */
export const GUIDE_CASING = ART.casing;
export const GUIDE_LINE = ART.light;

export const GUIDE_FONT = '500 13px "Barlow Condensed"';

export const GRID_FROM_ZOOM = 3;
const TEXELS_FROM_ZOOM = 8;

/** A guide as it is offered. `fromZoom`: further out it would be a grey veil, and is not drawn. */
export interface Guide {
  key: GuideKey;
  name: string;
  fromZoom?: number;
}

/** The guides that every template has. */
export const GUIDES: readonly Guide[] = [
  { key: 'wire', name: 'Wire' },
  { key: 'silhouette', name: 'Silhouette: only what the model wears' },
  { key: 'seams', name: 'Seams' },
  { key: 'parts', name: 'Names of places' },
  { key: 'axis', name: 'Symmetry axis' },
  { key: 'grid', name: 'Block grid, 4 x 4', fromZoom: GRID_FROM_ZOOM },
  { key: 'texels', name: 'Texel grid', fromZoom: TEXELS_FROM_ZOOM },
  { key: 'rulers', name: 'Rulers' },
];

/** Draws over what is there. @param view in texels of the sheet, @param strength of the ghost, 0..1 */
export function drawGuides(
  ctx: CanvasRenderingContext2D,
  view: Look & { mirrored?: boolean },
  template: Template,
  sheetKey: string,
  guides: ReadonlySet<GuideKey>,
  { pictures, layout, strength }: { pictures: GuidePictures; layout: TemplateLayout | undefined; strength: number },
): void {
  const ratio = devicePixelRatio;
  const sheet = sheetNamed(template, sheetKey);
  const paths = pathsOf(template, sheetKey);
  const scale = view.zoom * ratio;
  const origin = toScreen(view, 0, 0);
  const toSheet = () => ctx.setTransform(scale, 0, 0, scale, origin.x * ratio, origin.y * ratio);
  /** Dark casing, light core; widths in screen pixels. */
  const cased = (path: Path2D, core: number, tone: string = GUIDE_LINE, dash: number[] = []) => {
    toSheet();
    ctx.setLineDash([]);
    ctx.lineWidth = (core + 1.5) / view.zoom;
    ctx.strokeStyle = GUIDE_CASING;
    ctx.stroke(path);
    ctx.setLineDash(dash.map((d) => d / view.zoom));
    ctx.lineWidth = core / view.zoom;
    ctx.strokeStyle = tone;
    ctx.stroke(path);
    ctx.setLineDash([]);
  };
  /** A name whose lower left corner is a texel. */
  const nameAt = (name: string, left: number, bottom: number, width: number) => {
    const { x, y } = toScreen(view, left, bottom);
    const room = Math.max(20, width * view.zoom);
    // Names stay readable on paper that is seen from behind.
    if (view.mirrored) ctx.setTransform(-ratio, 0, 0, ratio, (2 * x + width * view.zoom) * ratio, 0);
    else ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    ctx.font = GUIDE_FONT;
    ctx.textBaseline = 'bottom';
    ctx.lineJoin = 'round';
    ctx.lineWidth = 3;
    ctx.strokeStyle = GUIDE_CASING;
    ctx.strokeText(name, x + 4, y - 3, room);
    ctx.fillStyle = GUIDE_LINE;
    ctx.fillText(name, x + 4, y - 3, room);
  };
  const ghost = guides.has('ghost') && strength > 0 ? pictures.ghosts.get(sheetKey) : undefined;
  if (ghost) {
    toSheet();
    ctx.globalAlpha = strength;
    ctx.drawImage(ghost, 0, 0, sheet.width, sheet.height);
    ctx.globalAlpha = 1;
  }
  if (guides.has('silhouette')) {
    toSheet();
    ctx.fillStyle = 'rgba(16, 16, 16, 0.8)';
    ctx.fill((paths.beside ??= besideOf(template, sheetKey)), 'evenodd');
  }
  if (guides.has('locator') && layout) drawLocator(ctx, template, sheet, layout, toSheet);
  for (const guide of template.guides ?? []) {
    const shape = guides.has(ownGuide(guide.key)) && guide.sheet === sheetKey ? pictures.shapes.get(guide.key) : null;
    if (!shape) continue;
    toSheet();
    const rim = 1 / view.zoom;
    for (const [dx, dy] of [
      [-rim, 0],
      [rim, 0],
      [0, -rim],
      [0, rim],
    ])
      ctx.drawImage(shape.dark, guide.left + dx, guide.top + dy);
    ctx.drawImage(shape.light, guide.left, guide.top);
  }
  if (guides.has('texels') && view.zoom >= TEXELS_FROM_ZOOM) {
    // Texels are many: a line of two tones, drawn thin.
    const path = gridOf(view, sheet, 1);
    toSheet();
    ctx.lineWidth = 1 / view.zoom;
    ctx.strokeStyle = 'rgba(16, 16, 16, 0.55)';
    ctx.stroke(path);
    ctx.lineWidth = 0.4 / view.zoom;
    ctx.strokeStyle = 'rgba(255, 255, 255, 0.7)';
    ctx.stroke(path);
  }
  if (guides.has('grid') && view.zoom >= GRID_FROM_ZOOM) cased(gridOf(view, sheet, 4), 0.5);
  if (guides.has('wire')) cased(paths.wire, wireWidth(view.zoom));
  if (guides.has('seams')) cased(paths.seams, 1.2);
  if (guides.has('axis')) {
    if (sheet.axis) cased(new Path2D(axisPath(sheet, sheet.axis)), 1.5, GUIDE_TONES.axis, [8, 5]);
    cased(paths.plane, 1.2, GUIDE_TONES.axis, [3, 4]);
  }
  if (guides.has('cells') && sheet.cells) cased(new Path2D(cellsPath(sheet, sheet.cells)), 1.5, GUIDE_TONES.cells);
  for (const outline of template.outlines ?? []) {
    if (outline.sheet !== sheetKey || !guides.has(ownGuide(outline.key))) continue;
    cased(
      new Path2D(ringsPath(outline.rings)),
      1.5,
      GUIDE_TONES[outline.role],
      outline.role === 'frame' ? [10, 4] : [],
    );
  }
  if (guides.has('boxes') && sheet.boxes) {
    cased(new Path2D(sheet.boxes.map(boxPath).join('')), 1.2, GUIDE_TONES.boxes);
    for (const box of sheet.boxes) if (box.width * view.zoom > 40) nameAt(box.name, box.left, box.top, box.width);
  }
  if (guides.has('parts')) {
    const taken = new Set<string>();
    for (const part of paths.places) {
      const { x, y } = toScreen(view, part.left, part.bottom);
      const room = (part.right - part.left) * view.zoom;
      // Islands that lie on one another would write over one another: the first names them.
      const spot = `${Math.round(x / 8)} ${Math.round(y / 8)}`;
      if (taken.has(spot)) continue;
      taken.add(spot);
      if (room < 24 || (part.bottom - part.top) * view.zoom < 12) continue;
      nameAt(part.name, part.left, part.bottom, part.right - part.left);
    }
  }
}

/** Every island in its colour, with its number; the art shows through a little. */
function drawLocator(
  ctx: CanvasRenderingContext2D,
  template: Template,
  sheet: TemplateSheet,
  layout: TemplateLayout,
  toSheet: () => void,
): void {
  toSheet();
  const mine = layout.islands.filter((island) => island.sheet === sheet.key);
  ctx.globalAlpha = 0.82;
  for (const island of mine) {
    ctx.fillStyle = island.colour;
    ctx.fill(new Path2D(outlineOf(template, sheet, island)));
  }
  ctx.globalAlpha = 1;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  ctx.lineJoin = 'round';
  for (const island of mine) {
    const size = labelSize(island, sheet);
    ctx.font = `600 ${size}px "Barlow Condensed"`;
    ctx.lineWidth = size / 6;
    ctx.strokeStyle = island.ink === '#000000' ? '#ffffff' : '#000000';
    ctx.strokeText(String(island.number), island.label.x, island.label.y);
    ctx.fillStyle = island.ink;
    ctx.fillText(String(island.number), island.label.x, island.label.y);
  }
  ctx.textAlign = 'start';
}

/** Zoomed out, the wire's lines lie close together: they become thinner, so that the art can be seen between them. */
const wireWidth = (zoom: number) => Math.min(0.6, 0.25 + zoom * 0.35);

function gridOf(view: Look, sheet: { width: number; height: number }, cell: number): Path2D {
  const path = new Path2D();
  const [w, h] = [view.width / view.zoom / 2, view.height / view.zoom / 2];
  const from = (middle: number, half: number) => Math.max(0, Math.floor((middle - half) / cell) * cell);
  const [right, bottom] = [Math.min(sheet.width, view.x + w), Math.min(sheet.height, view.y + h)];
  for (let x = from(view.x, w); x <= right; x += cell) {
    path.moveTo(x, from(view.y, h));
    path.lineTo(x, bottom);
  }
  for (let y = from(view.y, h); y <= bottom; y += cell) {
    path.moveTo(from(view.x, w), y);
    path.lineTo(right, y);
  }
  return path;
}
