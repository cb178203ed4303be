/** Layers of which one is meant to be seen: alternatives that a template's author made. */
import type { SingleEdit } from './edit.ts';
import type { Layer } from './layer.ts';

/** One choice among layers of a map. */
export interface Choice {
  readonly name: string;
  readonly options: readonly string[];
  /** The one that is seen; null: none, or several. */
  readonly shown: string | null;
}

/** The choices among some layers, in the order in which they come. */
export function choicesIn(layers: readonly Layer[]): Choice[] {
  const names = [...new Set(layers.flatMap(({ oneOf }) => (oneOf ? [oneOf.of] : [])))];
  return names.map((name) => {
    const mine = layers.flatMap(({ oneOf, hidden }) => (oneOf?.of === name ? [{ is: oneOf.is, hidden }] : []));
    const seen = new Set(mine.filter(({ hidden }) => !hidden).map(({ is }) => is));
    return { name, options: [...new Set(mine.map(({ is }) => is))], shown: seen.size === 1 ? [...seen][0] : null };
  });
}

/** Layers with one of a choice's options shown, or none of them. */
export const withChoice = (layers: readonly Layer[], name: string, option: string | null): Layer[] =>
  layers.map((layer) => (layer.oneOf?.of === name ? { ...layer, hidden: layer.oneOf.is !== option } : layer));

/** The edits that show one of a choice's options. */
export const chooseEdits = (layers: readonly Layer[], name: string, option: string | null): SingleEdit[] =>
  withChoice(layers, name, option).flatMap((layer, i) =>
    layer.hidden === layers[i].hidden ? [] : [{ do: 'set-layer', layer: layer.id, set: { hidden: layer.hidden } }],
  );

/** Whether a hidden layer is an alternative to one that is seen. */
export const isAlternative = (layer: Layer, layers: readonly Layer[]): boolean =>
  layer.oneOf !== undefined && layers.some(({ oneOf, hidden }) => oneOf?.of === layer.oneOf?.of && !hidden);
