import { finishesOf, LiveryFinish } from '../../livery/finish.ts';
import { FinishId, newFinishId } from '../../livery/ids.ts';
import { layersIn } from '../../livery/livery.ts';
import { alike, sameName, type ItemKind } from './kind.ts';
import type { z } from 'zod';

const value = LiveryFinish.omit({ id: true, name: true });

/** A finish that some layer or sheet wears. */
export const finish: ItemKind<z.infer<typeof value>> = {
  called: 'Finishes',
  value,
  found(livery) {
    const worn = new Set<string | undefined>([
      ...livery.sheets.map((sheet) => sheet.finish),
      ...layersIn(livery).map((layer) => layer.finish),
    ]);
    return finishesOf(livery)
      .filter(({ id }) => worn.has(id))
      .map(({ id, name, ...values }) => ({ name, value: values, places: [id] }));
  },
  read(livery, place) {
    const found = finishesOf(livery).find(({ id }) => id === place);
    if (!found) return null;
    const { id: _id, name: _name, ...values } = found;
    return values;
  },
  write(livery, place, values, { name }) {
    const id = FinishId.parse(place);
    const all = finishesOf(livery);
    return all.some((one) => one.id === id)
      ? [{ do: 'set-finish', finish: id, set: { ...values, flake: values.flake ?? null } }]
      : [{ do: 'add-finish', finish: { ...values, id, name }, index: all.length }];
  },
  newPlace: newFinishId,
  likeness(a, b) {
    const [name, same] = [sameName(a.name, b.name), alike(a.value, b.value)];
    return name && same ? 3 : same ? 2 : name ? 1 : 0;
  },
  words: ({ kind, roughness, metal }) => `${kind}, rough ${roughness} %, metal ${metal} %`,
};
