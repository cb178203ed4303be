import { mapsOf, sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { layersOf, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { MarkPlace } from '@wet-lacquer/core/livery/markPlace.ts';
import { markPlace } from '@wet-lacquer/core/surface/markPlace.ts';
import { useView } from '../flat/view.ts';
import { useSession } from '../session.ts';
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

/** The middle of the picture of the chosen plate, else of the one that is looked at. */
function onPlate({ plates = [] }: Livery, sheet: string): MarkPlace | null {
  const { x, y } = useView.getState();
  const here = plates.filter((one) => one.sheet === sheet);
  const plate =
    here.find(({ id }) => id === useSession.getState().plate) ??
    here.find((one) => x >= one.left && x < one.left + one.width && y >= one.top && y < one.top + one.height);
  if (!plate) return null;
  const { left, top, width, height } = plate;
  return { x: left + width / 2, y: top + height / 2, radius: Math.min(width, height) / 2, turn: 0, mirrored: false };
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
  const mark = sheet.plates ? onPlate(livery, sheetKey) : whole && !marked ? seenAt(template, sheetKey) : null;
  return { sheet, template, x: clamp(x, sheet.width), y: clamp(y, sheet.height), mark, livery };
}
