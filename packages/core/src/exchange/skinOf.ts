/** A delivery as a skin that can be handed on. */
import type { DeliveryPlan, PlannedFile } from '../delivery/plan.ts';
import type { Credit } from '../delivery/target.ts';
import { heldIn } from '../held.ts';
import type { Sha256 } from '../livery/ids.ts';
import { fillIn, type Livery } from '../livery/livery.ts';
import type { DeliverySpec } from '../livery/spec.ts';
import type { Template } from '../livery/template.ts';
import { readSkin, type Skin, type SkinFile } from './skin.ts';

/** A file as it was delivered. */
export interface Delivered {
  name: string;
  sha256: Sha256;
  bytes: number;
  what: string;
  /** Of an atlas of the game's own: the cells that are the skin's. */
  changed?: number[];
}

/** What whoever hands it on says of it. */
export type Said = Pick<Skin, 'name' | 'by' | 'crew' | 'about' | 'news' | 'licence'>;

export interface Handed {
  livery: Livery;
  template: Template;
  /** SHA-256 of the template. */
  hash: Sha256;
  spec: DeliverySpec;
  /** The delivery's plan, as it was. */
  plan: DeliveryPlan;
  number: number | null;
  files: readonly Delivered[];
  credits: readonly Credit[];
  pictures: Skin['pictures'];
  bundle: Skin['livery'];
}

/** @throws InputError when something that is said of it is too long, or there is too much of it */
export function skinOf(said: Said, handed: Handed): Skin {
  const { livery, template, hash, spec, plan, number, credits, pictures, bundle } = handed;
  const planned = new Map(plan.files.map((file) => [file.name, file]));
  const { particulars } = livery;
  return readSkin({
    schema: 1,
    ...said,
    subject: { key: template.key, name: template.name, template: hash },
    spec,
    particulars: Object.fromEntries(
      Object.entries(particulars).map(([key, value]) => [key, key === 'key' ? value : fillIn(value, particulars)]),
    ),
    sheets: template.sheets.map(({ key, width, height }) => ({ key, width, height })),
    number,
    credits,
    colours: [...new Set(livery.scheme.map(({ hex }) => hex))].slice(0, 24),
    after: livery.after ?? null,
    files: handed.files.map((file) => fileOf(file, heldIn(planned, file.name), template)),
    pictures,
    livery: bundle,
  });
}

function fileOf({ name, sha256, bytes, what, changed }: Delivered, file: PlannedFile, template: Template): SkinFile {
  const { pattern, naming } = file;
  const common = { name, sha256, bytes, what, pattern, naming: { ...naming } };
  if (file.kind === 'sidecar') return { ...common, ...(file.made && { text: textOf(file.made) }) };
  if (file.kind !== 'sheet' || file.plate) return common;
  const cells = template.sheets.find(({ key }) => key === file.master.key)?.cells;
  return {
    ...common,
    ...((file.level?.at ?? 0) === 0 && { sheet: { key: file.follower ?? file.master.key, map: file.spec.map } }),
    ...(changed && cells && { cells: { columns: cells.columns, rows: cells.rows, changed } }),
  };
}

/** What a text can say, as plain JSON. */
function textOf({ sidecar, view }: { sidecar: number; view: object }): SkinFile['text'] {
  return { sidecar, view: JSON.parse(JSON.stringify(view)) as Record<string, never> };
}
