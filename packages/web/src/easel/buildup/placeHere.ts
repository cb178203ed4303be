import { mapsOf, sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { layersOf, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { MarkPlace } from '@wet-lacquer/core/livery/markPlace.ts';
import { markPlace } from '@wet-lacquer/core/surface/markPlace.ts';
import { useView } from '../flat/view.ts';
import type { Place } from './makers.ts';

/** Found once for each sheet of a template: the mesh is looked through for it. */
const found = new WeakMap<Template, Map<string, MarkPlace | null>>();

function seenAt(template: Template, sheet: string): MarkPlace | null {
  const of = found.get(template) ?? new Map<string, MarkPlace | null>();
  found.set(template, of);
  const place = of.has(sheet) ? of.get(sheet)! : template.boards ? null : markPlace(template, sheet);
  of.set(sheet, place);
  return place;
}

/** Where something new begins on a sheet: in the middle of what is in view, or, for its first mark while all of it is in view, where it is seen. */
export function placeHere(template: Template, livery: Livery, sheetKey: string): Place {
  const sheet = sheetNamed(template, sheetKey);
  const { x, y, zoom, seen } = useView.getState();
  const clamp = (value: number, size: number) => Math.round(Math.min(size * 0.95, Math.max(size * 0.05, value)));
  const whole = sheet.width * zoom <= seen.width + 1 && sheet.height * zoom <= seen.height + 1;
  const marked = mapsOf(sheet).some(({ key }) =>
    layersOf(livery, sheetKey, key).some(({ phase }) => phase === 'Marks'),
  );
  const mark = whole && !marked ? seenAt(template, sheetKey) : null;
  return { sheet, template, x: clamp(x, sheet.width), y: clamp(y, sheet.height), mark, livery };
}
