/** Islands as outlines that a browser can fill. */
import type { Template, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { LayoutIsland } from '@wet-lacquer/core/surface/templateLayout.ts';
import { triangleOnSheet } from '@wet-lacquer/core/surface/triangles.ts';
import { context2d } from './context2d.ts';
import { boxPath } from './guideShapes.ts';

/** All triangles of some islands as one path of an SVG, in texels; cells have none. */
export function wireOf(template: Template, sheet: TemplateSheet, islands: readonly LayoutIsland[]): string {
  return islands
    .flatMap(({ triangles }) => triangles)
    .map((t) => {
      const c = triangleOnSheet(template.mesh, t, sheet.width, sheet.height).map((v) => Math.round(v * 8) / 8);
      return `M${c[0]} ${c[1]}L${c[2]} ${c[3]}L${c[4]} ${c[5]}Z`;
    })
    .join('');
}

const outlines = new WeakMap<LayoutIsland, string>();

/** The outline of an island, or of a cell, as a path of an SVG in texels, to be filled: the edges that only one of its triangles has. */
export function outlineOf(template: Template, sheet: TemplateSheet, island: LayoutIsland): string {
  const { left, top, right, bottom } = island.box;
  if (island.cell) return boxPath({ left, top, width: right - left, height: bottom - top });
  const known = outlines.get(island);
  if (known !== undefined) return known;
  const edges = new Map<string, [string, string]>();
  for (const t of island.triangles) {
    const c = triangleOnSheet(template.mesh, t, sheet.width, sheet.height).map((v) => Math.round(v * 8) / 8);
    // All in one turning sense, so that what two triangles share runs both ways.
    const turned = (c[2] - c[0]) * (c[5] - c[1]) - (c[4] - c[0]) * (c[3] - c[1]) < 0;
    const points = (turned ? [0, 4, 2] : [0, 2, 4]).map((k) => `${c[k]} ${c[k + 1]}`);
    points.forEach((from, k) => {
      const to = points[(k + 1) % 3];
      if (!edges.delete(`${to}|${from}`)) edges.set(`${from}|${to}`, [from, to]);
    });
  }
  const ways = new Map<string, string[]>();
  for (const [from, to] of edges.values()) ways.set(from, [...(ways.get(from) ?? []), to]);
  const path: string[] = [];
  for (const [start, ends] of ways) {
    while (ends.length > 0) {
      const ring = [start];
      for (let at = ends.pop(); at !== undefined && at !== start; at = ways.get(at)?.pop()) ring.push(at);
      path.push(`M${ring.join('L')}Z`);
    }
  }
  const made = path.join('');
  outlines.set(island, made);
  return made;
}

/** Size of an island's number: as large as fits, but readable on any sheet. */
export const labelSize = (island: LayoutIsland, sheet: TemplateSheet): number =>
  Math.min(sheet.height / 12, Math.max(sheet.height / 60, island.label.radius * 1.1));

/** Islands whose numbers can be read: of those that would lie over one another the larger ones. */
export function readableNumbers(islands: readonly LayoutIsland[], sheet: TemplateSheet): Set<number> {
  const taken: { x: number; y: number; wide: number; tall: number }[] = [];
  const shown = new Set<number>();
  for (const island of islands.toSorted((a, b) => b.label.radius - a.label.radius)) {
    const tall = labelSize(island, sheet);
    const box = { ...island.label, wide: tall * 0.5 * String(island.number).length, tall };
    const free = taken.every(
      ({ x, y, wide, tall: high }) =>
        Math.abs(x - box.x) > (wide + box.wide) / 2 || Math.abs(y - box.y) > (high + box.tall) / 2,
    );
    if (!free) continue;
    taken.push(box);
    shown.add(island.number);
  }
  return shown;
}

/** The locator of a sheet as a picture for the model. @param longest its longer side in pixels */
export function locatorPicture(
  template: Template,
  sheet: TemplateSheet,
  islands: readonly LayoutIsland[],
  chosen: readonly number[],
  longest = 1024,
): OffscreenCanvas {
  const scale = Math.min(1, longest / Math.max(sheet.width, sheet.height));
  const canvas = new OffscreenCanvas(Math.max(1, sheet.width * scale), Math.max(1, sheet.height * scale));
  const context = context2d(canvas);
  context.fillStyle = '#808080';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.scale(scale, scale);
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  context.lineJoin = 'round';
  const mine = islands.filter((island) => island.sheet === sheet.key);
  for (const island of mine) {
    const shape = new Path2D(outlineOf(template, sheet, island));
    context.globalAlpha = chosen.length > 0 && !chosen.includes(island.number) ? 0.25 : 1;
    context.fillStyle = context.strokeStyle = island.colour;
    // A little past the edge, so that filtering finds the colour there.
    context.lineWidth = 3 / scale;
    context.stroke(shape);
    context.fill(shape);
  }
  for (const island of mine) {
    const size = labelSize(island, sheet);
    context.globalAlpha = 1;
    context.font = `600 ${size}px "Barlow Condensed"`;
    context.fillStyle = island.ink;
    context.fillText(String(island.number), island.label.x, island.label.y);
  }
  return canvas;
}
