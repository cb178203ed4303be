/** What is different between two states of a livery, in the painter's own terms. */
import { finishesOf } from './finish.ts';
import type { Layer } from './layer.ts';
import type { Livery } from './livery.ts';

export interface SheetChanges {
  sheet: string;
  /** Names of layers. */
  added: string[];
  gone: string[];
  changed: string[];
  /** The same layers lie in another order. */
  order: boolean;
  /** Finish, checklist or parameter boxes. */
  settings: boolean;
}

export interface Changes {
  sheets: SheetChanges[];
  /** Names of scheme colours that were added, taken out or changed. */
  colours: string[];
  /** Names of finishes, the same way. */
  finishes: string[];
  /** Names of plates, the same way. */
  plates: string[];
  /** How the night follows the day. */
  night: boolean;
  /** Keys of particulars. */
  particulars: string[];
}

const same = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** @returns only the sheets that differ */
export function changesBetween(before: Livery, after: Livery): Changes {
  const keys = new Set([...before.sheets, ...after.sheets].map(({ key }) => key));
  const sheets = [...keys].flatMap((key): SheetChanges[] => {
    const [a, b] = [before, after].map(({ sheets: all }) => all.find((sheet) => sheet.key === key));
    const layersIn = (sheet: typeof a) => (sheet?.maps ?? []).flatMap(({ layers }) => layers);
    const [old, now] = [layersIn(a), layersIn(b)];
    const byId = new Map<string, Layer>(old.map((layer) => [layer.id, layer]));
    const ids = new Set<string>(now.map(({ id }) => id));
    const kept = (layers: readonly Layer[]) =>
      layers.filter(({ id }) => byId.has(id) && ids.has(id)).map(({ id }) => id);
    const settings = (sheet: typeof a) =>
      sheet && { ...sheet, maps: sheet.maps.map(({ key: map, alpha }) => [map, alpha]) };
    const found = {
      sheet: key,
      added: now.filter(({ id }) => !byId.has(id)).map(({ name }) => name),
      gone: old.filter(({ id }) => !ids.has(id)).map(({ name }) => name),
      changed: now.filter((layer) => byId.has(layer.id) && !same(byId.get(layer.id), layer)).map(({ name }) => name),
      order: !same(kept(old), kept(now)),
      settings: !same(settings(a), settings(b)),
    };
    const any = found.added.length + found.gone.length + found.changed.length > 0 || found.order || found.settings;
    return any ? [found] : [];
  });
  const colours = differing(before.scheme, after.scheme);
  const finishes = differing(finishesOf(before), finishesOf(after));
  const particulars = [...new Set([...Object.keys(before.particulars), ...Object.keys(after.particulars)])].filter(
    (key) => before.particulars[key] !== after.particulars[key],
  );
  const plates = differing(before.plates ?? [], after.plates ?? []);
  return { sheets, colours, finishes, plates, night: !same(before.night, after.night), particulars };
}

/** Names of what was added, taken out or changed. */
function differing<T extends { id: string; name: string }>(before: readonly T[], after: readonly T[]): string[] {
  const all = new Map([...before, ...after].map((one) => [one.id, one.name]));
  const find = (of: readonly T[], id: string) => of.find((one) => one.id === id);
  return [...all].filter(([id]) => !same(find(before, id), find(after, id))).map(([, name]) => name);
}
