import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { planeTrace, straightTraces } from '@wet-lacquer/core/surface/symmetryPlane.ts';

interface PlaneOn {
  /** x1, y1, x2, y2 a piece, texels. */
  trace: number[];
  /** Where it runs straight up or across. */
  straight: ReturnType<typeof straightTraces>;
}

const known = new WeakMap<Template, Map<string, PlaneOn>>();

/** Where the model's plane of symmetry cuts a sheet; worked out once. */
export function planeOn(template: Template, sheet: string): PlaneOn {
  const sheets = known.get(template) ?? new Map<string, PlaneOn>();
  known.set(template, sheets);
  const found = sheets.get(sheet);
  if (found) return found;
  const trace = template.plane ? planeTrace(template, template.plane, sheet) : [];
  const made = { trace, straight: straightTraces(trace) };
  sheets.set(sheet, made);
  return made;
}

/** Pieces as an SVG path. */
export function segmentsPath(pieces: readonly number[]): string {
  let path = '';
  for (let i = 0; i < pieces.length; i += 4) path += `M${pieces[i]} ${pieces[i + 1]}L${pieces[i + 2]} ${pieces[i + 3]}`;
  return path;
}
