/** Changes of a template, as a painter settles what its files did not say. A changed template is a new one that takes the old one's place. */
import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { InputError } from '../errors.ts';
import { islandsOf } from './islands.ts';
import { Sha256 } from '../livery/ids.ts';
import { slugOf } from '../livery/slug.ts';
import {
  sheetNamed,
  Template,
  TemplateOutline,
  type TemplatePart,
  TemplateRun,
  TemplateSheet,
} from '../livery/template.ts';

const name = z.string().trim().min(1, 'give it a name').max(60);

export const TemplateChange = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('set-sheet'),
    sheet: z.string(),
    set: TemplateSheet.pick({ axis: true, boxes: true, followers: true }).partial().extend({
      cells: TemplateSheet.shape.cells.unwrap().nullable().optional(),
      /** What maps that are there are called and hold. */
      maps: TemplateSheet.shape.maps.unwrap().optional(),
    }),
  }),
  z.strictObject({
    do: z.literal('set-part'),
    part: z.string(),
    set: z.strictObject({ name, hex: z.string().regex(HEX).nullable() }).partial(),
  }),
  /** Islands, by their numbers, become a part of their own; or join the part of that name. */
  z.strictObject({
    do: z.literal('group-islands'),
    islands: z.array(z.number().int().min(1)).min(1, 'choose an island first').max(10_000),
    name,
    hex: z.string().regex(HEX).nullable(),
  }),
  z.strictObject({ do: z.literal('set-outlines'), outlines: z.array(TemplateOutline).max(500) }),
  z.strictObject({ do: z.literal('set-runs'), runs: z.array(TemplateRun).max(32) }),
  /** A sheet that nothing of the model wears is for plates, or no more. */
  z.strictObject({ do: z.literal('for-plates'), sheet: z.string(), plates: z.boolean() }),
  /** One more sheet, for plates. */
  z.strictObject({
    do: z.literal('add-plates'),
    name,
    side: z.union([z.literal(256), z.literal(512), z.literal(1024), z.literal(2048), z.literal(4096)]),
  }),
  /** Parts that shared a sheet get one of their own, which begins as a copy. */
  z.strictObject({ do: z.literal('own-sheet'), parts: z.array(z.string()).min(1).max(200), name }),
]);
export type TemplateChange = z.infer<typeof TemplateChange>;

/** The template with some changes, in the place of the one under `hash`. @throws InputError when a change is for something that is not there */
export function reviseTemplate(template: Template, hash: string, changes: readonly TemplateChange[]): Template {
  const revised = changes.reduce(applyChange, template);
  const parsed = Template.safeParse({ ...revised, replaces: Sha256.parse(hash) });
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    throw new InputError(`${issue.path.join('.')}: ${issue.message}.`);
  }
  return parsed.data;
}

function applyChange(template: Template, change: TemplateChange): Template {
  switch (change.do) {
    case 'set-sheet': {
      const { cells, ...set } = change.set;
      return withSheet(template, change.sheet, (sheet) => {
        const { cells: before, ...rest } = sheet;
        const after = cells === undefined ? before : (cells ?? undefined);
        const next = { ...rest, ...set, ...(after && { cells: after }) };
        const keysOf = ({ maps = [] }: Pick<TemplateSheet, 'maps'>) => maps.map((map) => map.key).join();
        if (keysOf(next) !== keysOf(sheet))
          throw new InputError(`The maps of ${sheet.name} are not those that it has now: ${keysOf(sheet) || 'none'}.`);
        for (const box of next.boxes ?? [])
          if (box.left + box.width > sheet.width || box.top + box.height > sheet.height)
            throw new InputError(`The box "${box.name}" reaches past ${sheet.name}.`);
        unique(
          (next.boxes ?? []).map((box) => box.key),
          'box',
        );
        unique([...template.sheets.map((s) => s.key), ...(next.followers ?? []).map((f) => f.key)], 'follower');
        return next;
      });
    }
    case 'set-part':
      if (!template.parts.some((part) => part.key === change.part))
        throw new InputError('The part that this change is for is no longer there.');
      return {
        ...template,
        parts: template.parts.map((part) => (part.key === change.part ? { ...part, ...change.set } : part)),
      };
    case 'group-islands':
      return groupIslands(template, change.islands, change.name, change.hex);
    case 'set-outlines':
      for (const outline of change.outlines) sheetNamed(template, outline.sheet);
      return { ...template, outlines: change.outlines };
    case 'set-runs':
      for (const run of change.runs) for (const piece of run.pieces) sheetNamed(template, piece.sheet);
      return { ...template, runs: change.runs };
    case 'for-plates':
      onModel(template);
      if (change.plates && template.parts.some((part) => part.sheet === change.sheet))
        throw new InputError('Parts of the model wear this sheet: it cannot be one of plates.');
      return withSheet(template, change.sheet, ({ plates: _plates, ...sheet }) =>
        change.plates ? { ...sheet, alpha: 'coverage', plates: true } : sheet,
      );
    case 'add-plates': {
      onModel(template);
      const key = freeKey(change.name, new Set(template.sheets.map((sheet) => sheet.key)));
      const { side: width } = change;
      const sheet: TemplateSheet = {
        ...{ key, name: change.name, width, height: width, alpha: 'coverage', axis: null, plates: true },
      };
      return { ...template, sheets: [...template.sheets, sheet] };
    }
    case 'own-sheet':
      return ownSheet(template, change.parts, change.name);
  }
}

function onModel({ boards }: Template): void {
  if (boards) throw new InputError('It came without a model: there is nothing on which plates could stand.');
}

function withSheet(template: Template, key: string, change: (sheet: TemplateSheet) => TemplateSheet): Template {
  const sheet = sheetNamed(template, key);
  return { ...template, sheets: template.sheets.with(template.sheets.indexOf(sheet), change(sheet)) };
}

function unique(keys: readonly string[], what: string): void {
  const twice = keys.find((key, i) => keys.indexOf(key) !== i);
  if (twice) throw new InputError(`There is already a ${what} or sheet called "${twice}".`);
}

/** A key after a name that nothing in `taken` has. */
export function freeKey(wanted: string, taken: ReadonlySet<string>): string {
  const slug = slugOf(wanted);
  const stem = (/^[a-z]/.test(slug) ? slug : `x-${slug}`).replace(/-$/, '').slice(0, 36);
  let key = stem;
  for (let n = 2; taken.has(key); n++) key = `${stem}-${n}`;
  return key;
}

/**
 * Triangles change their parts: the mesh's triangles are put in the order of the parts, for a part is a run of neighbouring ones.
 * Numbers of islands go by their place on the sheet, so they stay.
 */
function groupIslands(template: Template, numbers: readonly number[], wanted: string, hex: string | null): Template {
  const islands = islandsOf(template);
  const chosen = numbers.map((number) => {
    const found = islands.find((island) => island.number === number);
    if (!found) throw new InputError(`There is no island ${number}.`);
    return found;
  });
  const sheet = chosen[0].sheet;
  if (chosen.some((island) => island.sheet !== sheet))
    throw new InputError('A part lies on one sheet: these are on several.');
  const same = template.parts.find((part) => part.sheet === sheet && part.name === wanted);
  const key = same?.key ?? freeKey(wanted, new Set(template.parts.map((part) => part.key)));
  const moved = new Set(chosen.flatMap((island) => island.triangles));
  const members = new Map<TemplatePart, number[]>();
  for (const part of template.parts) {
    const own = Array.from({ length: part.count }, (_, k) => part.first + k);
    members.set(
      part,
      own.filter((t) => part === same || !moved.has(t)),
    );
  }
  if (same) members.set(same, [...new Set([...members.get(same)!, ...moved])]);
  const parts = [...members].filter(([, triangles]) => triangles.length > 0);
  const fresh = { key, name: wanted, sheet, first: 0, count: 1, hex };
  if (!same) parts.push([fresh, [...moved]]);
  const indices: number[] = [];
  let first = 0;
  const placed = parts.map(([part, triangles]) => {
    for (const t of triangles.sort((a, b) => a - b)) indices.push(...template.mesh.indices.slice(t * 3, t * 3 + 3));
    const next = { ...part, first, count: triangles.length, ...(part === same && hex && { hex }) };
    first += triangles.length;
    return next;
  });
  // Layers that keep to a part that is gone would keep to nothing: they keep to the one that took its triangles.
  const gone = new Set(template.parts.map((p) => p.key).filter((k) => !placed.some((p) => p.key === k)));
  const begin = Object.fromEntries(
    Object.entries(template.begin ?? {}).map(([where, layers]) => [
      where,
      layers.map((layer) => ({ ...layer, parts: [...new Set(layer.parts.map((k) => (gone.has(k) ? key : k)))] })),
    ]),
  );
  return { ...template, parts: placed, mesh: { ...template.mesh, indices }, ...(template.begin && { begin }) };
}

/** A12: the parts' triangles keep their places on the new sheet, which begins as a copy of the old one, guides and all. */
function ownSheet(template: Template, keys: readonly string[], wanted: string): Template {
  const chosen = template.parts.filter((part) => keys.includes(part.key));
  const from = chosen[0]?.sheet;
  if (!from || chosen.some((part) => part.sheet !== from)) throw new InputError('Choose parts that share one sheet.');
  if (template.parts.filter((part) => part.sheet === from).length === chosen.length)
    throw new InputError('Nothing else uses this sheet: it is their own already.');
  const sheet = sheetNamed(template, from);
  const key = freeKey(wanted, new Set(template.sheets.map((s) => s.key)));
  const { followers: _followers, boxes: _boxes, ...plain } = sheet;
  const at = template.sheets.indexOf(sheet) + 1;
  const begin = { ...template.begin };
  for (const [where, layers] of Object.entries(template.begin ?? {})) {
    const [name, map] = where.split('/');
    if (name === from) begin[map ? `${key}/${map}` : key] = layers;
  }
  const spec = template.ownSpec && {
    ...template.ownSpec,
    version: template.ownSpec.version + 1,
    files: template.ownSpec.files.flatMap((file) => {
      if (!file.sheets?.includes(from)) return [file];
      // The rule named a file: the copy's file is named after the copy.
      const name = file.name.includes('{sheet.key}') ? file.name : file.name.replace(/(\.[^./]*)?$/, `_${key}$1`);
      return [file, { ...file, sheets: [key], name }];
    }),
  };
  return {
    ...template,
    sheets: template.sheets.toSpliced(at, 0, { ...plain, key, name: wanted }),
    parts: template.parts.map((part) => (keys.includes(part.key) ? { ...part, sheet: key } : part)),
    guides: template.guides?.flatMap((guide) =>
      guide.sheet === from ? [guide, { ...guide, key: `${guide.key}-${key}`.slice(0, 60), sheet: key }] : [guide],
    ),
    begin,
    ...(spec && { ownSpec: spec, spec: { ...template.spec, version: spec.version } }),
  };
}
