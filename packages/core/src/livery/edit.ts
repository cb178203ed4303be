import { z } from 'zod';
import { ColourId, LayerId, Sha256 } from './ids.ts';
import { Layer } from './layer.ts';
import {
  Livery,
  LiverySheet,
  Reference,
  SchemeColour,
  Selection,
  SpecPin,
  Version,
  findLayer,
  type LayerPlace,
} from './livery.ts';
import { Mask, Stroke } from './paint.ts';
import { MOST } from './limits.ts';
import { words } from './words.ts';
import { InputError } from '../errors.ts';

/** What an edit aims at is no longer there: the edit is set aside and shown, never dropped. */
export class TargetGone extends InputError {
  override name = 'TargetGone';
}

const mapPlace = { sheet: z.string(), map: z.string() };
const AddLayer = z.strictObject({
  do: z.literal('add-layer'),
  ...mapPlace,
  layer: Layer,
  index: z.number().int().min(0),
});
const RemoveLayer = z.strictObject({ do: z.literal('remove-layer'), layer: LayerId });
/** `index` is the place among the layers once the moved one is taken out. */
const MoveLayer = z.strictObject({
  do: z.literal('move-layer'),
  layer: LayerId,
  ...mapPlace,
  index: z.number().int().min(0),
});
/** Only the named settings change, so two people can change different settings of one layer. Null takes a setting off that need not be. */
const SetLayer = z.strictObject({
  do: z.literal('set-layer'),
  layer: LayerId,
  set: z.record(z.string(), z.json()).refine((set) => !('id' in set || 'kind' in set), 'id and kind stay as they are'),
});
/** Strokes are added one by one, so that those of two people on one layer both stay. `on`: the layer's picture, or its mask. */
const AddStroke = z.strictObject({
  do: z.literal('add-stroke'),
  layer: LayerId,
  on: z.enum(['layer', 'mask']),
  stroke: Stroke,
  /** Left out: last. */
  index: z.number().int().min(0).optional(),
});
const RemoveStroke = z.strictObject({
  do: z.literal('remove-stroke'),
  layer: LayerId,
  on: z.enum(['layer', 'mask']),
  stroke: z.string(),
});
/** Changes a mask's settings and leaves what was painted on it. */
const SetMask = z.strictObject({
  do: z.literal('set-mask'),
  layer: LayerId,
  set: Mask.omit({ strokes: true }).partial(),
});
const AddSelection = z.strictObject({ do: z.literal('add-selection'), selection: Selection });
const RemoveSelection = z.strictObject({ do: z.literal('remove-selection'), selection: z.string() });
const AddColour = z.strictObject({ do: z.literal('add-colour'), colour: SchemeColour, index: z.number().int().min(0) });
const RemoveColour = z.strictObject({ do: z.literal('remove-colour'), colour: ColourId });
const SetColour = z.strictObject({
  do: z.literal('set-colour'),
  colour: ColourId,
  set: SchemeColour.omit({ id: true }).partial(),
});
const SetParticular = z.strictObject({
  do: z.literal('set-particular'),
  key: z.string(),
  value: words(200).nullable(),
});
const SetSheet = z.strictObject({
  do: z.literal('set-sheet'),
  sheet: z.string(),
  set: LiverySheet.pick({ finish: true, ready: true, kept: true, boxes: true }).partial(),
});
const AddReference = z.strictObject({ do: z.literal('add-reference'), reference: Reference });
const RemoveReference = z.strictObject({ do: z.literal('remove-reference'), reference: z.string() });
const MoveReference = z.strictObject({
  do: z.literal('move-reference'),
  reference: z.string(),
  set: Reference.pick({ left: true, top: true, width: true, height: true }).partial(),
});
/**
 * Puts a livery on another version of its template. Sheets and maps that the new one adds come along; those that it lacks stay in the
 * livery, so that nothing is lost when the step is taken back.
 */
const TakeTemplate = z.strictObject({
  do: z.literal('take-template'),
  template: Sha256,
  spec: SpecPin,
  sheets: z.array(LiverySheet).max(MOST.sheets),
});
/** By which specs it is delivered beside its own. */
const AlsoBy = z.strictObject({ do: z.literal('also-by'), specs: z.array(SpecPin).max(8) });
const AddVersion = z.strictObject({ do: z.literal('add-version'), version: Version });
const RemoveVersion = z.strictObject({ do: z.literal('remove-version'), version: z.string() });
/** The livery becomes what it was at another time; its named versions stay. */
const Become = z.strictObject({ do: z.literal('become'), livery: Livery });
/** What a font's key stands for, so that the lettering looks the same for ever. */
const PinFont = z.strictObject({ do: z.literal('pin-font'), font: z.string().max(60), hash: Sha256.nullable() });

const SingleEdit = z.discriminatedUnion('do', [
  AddLayer,
  RemoveLayer,
  MoveLayer,
  SetLayer,
  AddStroke,
  RemoveStroke,
  SetMask,
  AddSelection,
  RemoveSelection,
  AddColour,
  RemoveColour,
  SetColour,
  SetParticular,
  SetSheet,
  PinFont,
  AddReference,
  RemoveReference,
  MoveReference,
  TakeTemplate,
  AlsoBy,
  AddVersion,
  RemoveVersion,
  Become,
]);
/** Several changes that are one step to the person who made them. */
const Together = z.strictObject({ do: z.literal('together'), edits: z.array(SingleEdit).min(1).max(600) });

/** One change of a livery: plain data. */
export const Edit = z.discriminatedUnion('do', [...SingleEdit.options, Together]);
export type Edit = z.infer<typeof Edit>;
export type SingleEdit = z.infer<typeof SingleEdit>;

/** The changes that an edit is made of. */
export const singlesOf = (edit: Edit): readonly SingleEdit[] => (edit.do === 'together' ? edit.edits : [edit]);

/**
 * Applies one edit. Pure: the given livery is not changed, and unchanged branches are shared with the result.
 * @returns the new livery, and the edit that takes this one back
 * @throws TargetGone when its target is not there; InputError when the result would not be a livery
 */
export function applyEdit(livery: Livery, edit: Edit): { livery: Livery; inverse: Edit } {
  if (edit.do !== 'together') return applySingle(livery, edit);
  let current = livery;
  const inverses: SingleEdit[] = [];
  for (const single of edit.edits) {
    const result = applySingle(current, single);
    current = result.livery;
    inverses.unshift(result.inverse);
  }
  return { livery: current, inverse: { do: 'together', edits: inverses } };
}

function applySingle(livery: Livery, edit: SingleEdit): { livery: Livery; inverse: SingleEdit } {
  switch (edit.do) {
    case 'add-layer': {
      if (findLayer(livery, edit.layer.id)) throw new InputError('A layer with this id is there already.');
      const next = withLayers(livery, edit.sheet, edit.map, (layers) =>
        layers.toSpliced(Math.min(edit.index, layers.length), 0, edit.layer),
      );
      return { livery: next, inverse: { do: 'remove-layer', layer: edit.layer.id } };
    }
    case 'remove-layer': {
      const at = place(livery, edit.layer);
      const next = withLayers(livery, at.sheet, at.map, (layers) => layers.toSpliced(at.index, 1));
      return {
        livery: next,
        inverse: { do: 'add-layer', sheet: at.sheet, map: at.map, layer: at.layer, index: at.index },
      };
    }
    case 'move-layer': {
      const at = place(livery, edit.layer);
      const without = withLayers(livery, at.sheet, at.map, (layers) => layers.toSpliced(at.index, 1));
      const next = withLayers(without, edit.sheet, edit.map, (layers) =>
        layers.toSpliced(Math.min(edit.index, layers.length), 0, at.layer),
      );
      return {
        livery: next,
        inverse: { do: 'move-layer', layer: edit.layer, sheet: at.sheet, map: at.map, index: at.index },
      };
    }
    case 'set-layer': {
      const at = place(livery, edit.layer);
      const before: Record<string, unknown> = at.layer;
      const whole: Record<string, unknown> = { ...at.layer, ...edit.set };
      for (const key of MAY_BE_LEFT_OUT) if (whole[key] === null) delete whole[key];
      const parsed = Layer.safeParse(whole);
      if (!parsed.success) throw new InputError(sentenceOf(parsed.error, at.layer.name));
      // What was not set stays the same object: its strokes, most of all.
      const kept = Object.entries(parsed.data).map(([key, value]) => [key, key in edit.set ? value : before[key]]);
      const layer = Object.fromEntries(kept) as Layer;
      const next = withLayers(livery, at.sheet, at.map, (layers) => layers.with(at.index, layer));
      const set = Object.fromEntries(Object.keys(edit.set).map((key) => [key, before[key] ?? null])) as typeof edit.set;
      return { livery: next, inverse: { do: 'set-layer', layer: edit.layer, set } };
    }
    case 'add-stroke': {
      const at = place(livery, edit.layer);
      const strokes = strokesOn(at.layer, edit.on);
      if (strokes.some(({ id }) => id === edit.stroke.id)) throw new InputError('This stroke is there already.');
      return {
        livery: withStrokes(livery, at, edit.on, strokes.toSpliced(edit.index ?? strokes.length, 0, edit.stroke)),
        inverse: { do: 'remove-stroke', layer: edit.layer, on: edit.on, stroke: edit.stroke.id },
      };
    }
    case 'remove-stroke': {
      const at = place(livery, edit.layer);
      const strokes = strokesOn(at.layer, edit.on);
      const index = strokes.findIndex(({ id }) => id === edit.stroke);
      if (index < 0) throw new TargetGone('The stroke that this change is for is no longer there.');
      return {
        livery: withStrokes(livery, at, edit.on, strokes.toSpliced(index, 1)),
        inverse: { do: 'add-stroke', layer: edit.layer, on: edit.on, stroke: strokes[index], index },
      };
    }
    case 'set-mask': {
      const at = place(livery, edit.layer);
      const mask = at.layer.mask;
      if (!mask) throw new TargetGone('The mask that this change is for is no longer there.');
      const before: Record<string, unknown> = mask;
      const set = Object.fromEntries(Object.keys(edit.set).map((key) => [key, before[key]])) as typeof edit.set;
      return {
        livery: withLayer(livery, at, { ...at.layer, mask: { ...mask, ...edit.set } }),
        inverse: { do: 'set-mask', layer: edit.layer, set },
      };
    }
    case 'add-selection': {
      const all = livery.selections ?? [];
      if (all.some(({ id }) => id === edit.selection.id))
        throw new InputError('A selection with this id is there already.');
      return {
        livery: { ...livery, selections: [...all, edit.selection] },
        inverse: { do: 'remove-selection', selection: edit.selection.id },
      };
    }
    case 'remove-selection': {
      const all = livery.selections ?? [];
      const found = all.find(({ id }) => id === edit.selection);
      if (!found) throw new TargetGone('The selection that this change is for is no longer there.');
      return {
        livery: withList(
          livery,
          'selections',
          all.filter((one) => one !== found),
        ),
        inverse: { do: 'add-selection', selection: found },
      };
    }
    case 'add-colour': {
      if (livery.scheme.some((c) => c.id === edit.colour.id))
        throw new InputError('A colour with this id is there already.');
      const scheme = livery.scheme.toSpliced(Math.min(edit.index, livery.scheme.length), 0, edit.colour);
      return { livery: { ...livery, scheme }, inverse: { do: 'remove-colour', colour: edit.colour.id } };
    }
    case 'remove-colour': {
      const index = colourIndex(livery, edit.colour);
      const inverse: SingleEdit = { do: 'add-colour', colour: livery.scheme[index], index };
      return { livery: { ...livery, scheme: livery.scheme.toSpliced(index, 1) }, inverse };
    }
    case 'set-colour': {
      const index = colourIndex(livery, edit.colour);
      const before = livery.scheme[index];
      const set = Object.fromEntries(Object.keys(edit.set).map((key) => [key, before[key as 'name' | 'hex']]));
      return {
        livery: { ...livery, scheme: livery.scheme.with(index, { ...before, ...edit.set }) },
        inverse: { do: 'set-colour', colour: edit.colour, set },
      };
    }
    case 'set-particular': {
      const before = Object.hasOwn(livery.particulars, edit.key) ? livery.particulars[edit.key] : null;
      const particulars = { ...livery.particulars };
      if (edit.value === null) delete particulars[edit.key];
      else particulars[edit.key] = edit.value;
      const parsed = Livery.shape.particulars.safeParse(particulars);
      if (!parsed.success) throw new InputError(`"${edit.key}" cannot be the name of a particular: use letters only.`);
      return { livery: { ...livery, particulars }, inverse: { do: 'set-particular', key: edit.key, value: before } };
    }
    case 'set-sheet': {
      const index = sheetIndex(livery, edit.sheet);
      const before = livery.sheets[index];
      const set = Object.fromEntries(
        Object.keys(edit.set).map((key) => [key, before[key as 'finish' | 'ready' | 'kept' | 'boxes'] ?? {}]),
      );
      const { boxes, ...whole } = { ...before, ...edit.set };
      const empty = Object.keys(boxes ?? {}).length === 0;
      const sheets = livery.sheets.with(index, empty ? whole : { ...whole, boxes });
      return { livery: { ...livery, sheets }, inverse: { do: 'set-sheet', sheet: edit.sheet, set } };
    }
    case 'add-reference': {
      const all = livery.references ?? [];
      if (all.some(({ id }) => id === edit.reference.id))
        throw new InputError('A reference with this id is there already.');
      return {
        livery: { ...livery, references: [...all, edit.reference] },
        inverse: { do: 'remove-reference', reference: edit.reference.id },
      };
    }
    case 'remove-reference': {
      const { all, found } = reference(livery, edit.reference);
      return {
        livery: withList(
          livery,
          'references',
          all.filter((one) => one !== found),
        ),
        inverse: { do: 'add-reference', reference: found },
      };
    }
    case 'move-reference': {
      const { all, found } = reference(livery, edit.reference);
      const { left, top, width, height } = found;
      const set = Object.fromEntries(
        Object.entries({ left, top, width, height }).filter(([key]) => key in edit.set),
      ) as typeof edit.set;
      return {
        livery: { ...livery, references: all.with(all.indexOf(found), { ...found, ...edit.set }) },
        inverse: { do: 'move-reference', reference: found.id, set },
      };
    }
    case 'add-version': {
      const all = livery.versions ?? [];
      if (all.some(({ id }) => id === edit.version.id))
        throw new InputError('A version with this id is there already.');
      return {
        livery: { ...livery, versions: [...all, edit.version] },
        inverse: { do: 'remove-version', version: edit.version.id },
      };
    }
    case 'remove-version': {
      const all = livery.versions ?? [];
      const found = all.find(({ id }) => id === edit.version);
      if (!found) throw new TargetGone('This version no longer has a name.');
      return {
        livery: withList(
          livery,
          'versions',
          all.filter((one) => one !== found),
        ),
        inverse: { do: 'add-version', version: found },
      };
    }
    case 'become': {
      if (edit.livery.pins.template !== livery.pins.template)
        throw new InputError('That state is on another version of its template: it cannot be gone back to.');
      const { versions: _theirs, ...state } = edit.livery;
      const { versions, ...before } = livery;
      return {
        livery: { ...state, ...(versions && { versions }) },
        inverse: { do: 'become', livery: before },
      };
    }
    case 'take-template': {
      const { pins } = livery;
      const given = new Map(edit.sheets.map((sheet) => [sheet.key, sheet]));
      const kept = livery.sheets.map((sheet) => {
        const more = (given.get(sheet.key)?.maps ?? []).filter((map) => !sheet.maps.some(({ key }) => key === map.key));
        return more.length > 0 ? { ...sheet, maps: [...sheet.maps, ...more] } : sheet;
      });
      const fresh = edit.sheets.filter((sheet) => !livery.sheets.some(({ key }) => key === sheet.key));
      return {
        livery: { ...livery, sheets: [...kept, ...fresh], pins: { ...pins, template: edit.template, spec: edit.spec } },
        inverse: { do: 'take-template', template: pins.template, spec: pins.spec, sheets: [] },
      };
    }
    case 'also-by': {
      const { alsoBy = [], ...rest } = livery;
      const keys = [livery.pins.spec, ...edit.specs].map(({ key }) => key);
      if (new Set(keys).size < keys.length) throw new InputError('A livery goes to each delivery spec once.');
      return {
        livery: edit.specs.length > 0 ? { ...rest, alsoBy: edit.specs } : rest,
        inverse: { do: 'also-by', specs: alsoBy },
      };
    }
    case 'pin-font': {
      const fonts = { ...livery.pins.fonts };
      const before = fonts[edit.font] ?? null;
      if (edit.hash === null) delete fonts[edit.font];
      else fonts[edit.font] = edit.hash;
      const pins = { ...livery.pins, fonts };
      return { livery: { ...livery, pins }, inverse: { do: 'pin-font', font: edit.font, hash: before } };
    }
  }
}

/** Settings of a layer that it can be without. */
const MAY_BE_LEFT_OUT = ['group', 'clipped', 'mask', 'filters', 'channels', 'across', 'oneOf', 'knockOut', 'warp'];

function strokesOn(layer: Layer, on: 'layer' | 'mask'): readonly Stroke[] {
  const strokes = on === 'mask' ? layer.mask?.strokes : layer.kind === 'brush' ? layer.strokes : undefined;
  if (!strokes) throw new TargetGone(`"${layer.name}" has nothing that can be painted on.`);
  return strokes;
}

function withStrokes(livery: Livery, at: LayerPlace, on: 'layer' | 'mask', strokes: Stroke[]): Livery {
  const { layer } = at;
  return withLayer(
    livery,
    at,
    on === 'mask' ? { ...layer, mask: { ...layer.mask!, strokes } } : ({ ...layer, strokes } as Layer),
  );
}

const withLayer = (livery: Livery, at: LayerPlace, layer: Layer): Livery =>
  withLayers(livery, at.sheet, at.map, (layers) => layers.with(at.index, layer));

function place(livery: Livery, id: LayerId) {
  const found = findLayer(livery, id);
  if (!found) throw new TargetGone('The layer that this change is for is no longer there.');
  return found;
}

/** Lists that a livery can be without: an empty one is left out, so that taking back leaves what was there before. */
function withList<K extends 'selections' | 'versions' | 'references'>(
  livery: Livery,
  key: K,
  list: Livery[K] & object,
) {
  const { [key]: _before, ...rest } = livery;
  return (list.length > 0 ? { ...rest, [key]: list } : rest) as Livery;
}

function reference(livery: Livery, id: string) {
  const all = livery.references ?? [];
  const found = all.find((one) => one.id === id);
  if (!found) throw new TargetGone('The reference picture that this change is for is no longer there.');
  return { all, found };
}

function colourIndex(livery: Livery, id: ColourId): number {
  const index = livery.scheme.findIndex((colour) => colour.id === id);
  if (index < 0) throw new TargetGone('The scheme colour that this change is for is no longer there.');
  return index;
}

function sheetIndex(livery: Livery, key: string): number {
  const index = livery.sheets.findIndex((sheet) => sheet.key === key);
  if (index < 0) throw new TargetGone(`The sheet "${key}" is not part of this livery.`);
  return index;
}

function withLayers(livery: Livery, sheet: string, map: string, change: (layers: Layer[]) => Layer[]): Livery {
  const s = sheetIndex(livery, sheet);
  const m = livery.sheets[s].maps.findIndex((found) => found.key === map);
  if (m < 0) throw new TargetGone(`The sheet "${sheet}" has no map "${map}".`);
  const before = livery.sheets[s].maps[m];
  const maps = livery.sheets[s].maps.with(m, { ...before, layers: change(before.layers) });
  return { ...livery, sheets: livery.sheets.with(s, { ...livery.sheets[s], maps }) };
}

function sentenceOf(error: z.ZodError, name: string): string {
  const issue = error.issues[0];
  return `"${name}": ${issue.path.join('.') || 'value'}: ${issue.message}.`;
}
